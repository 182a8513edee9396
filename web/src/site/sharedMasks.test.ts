import { describe, expect, it } from "vitest";
import type { SiteDocument } from "../api/client";
import { applyOperations } from "./patch";
import { chainOf, detach, follow, followers, share } from "./sharedMasks";

const card = (id: string) => ({ id }) as unknown as SiteDocument["wheres"][number]["cards"][number];
const own = (...ids: string[]) => ({ cards: ids.map(card), shared: "" });

function site(): SiteDocument {
  return {
    wheres: [],
    planting: [
      { id: "ferns", name: "Ferns", where: own("shade"), size_where: own(), mix: [{ where: own() }, { where: own() }] },
      { id: "grass", name: "Grass", where: own("sun"), size_where: own(), mix: [{ where: own() }] },
    ],
    weather: [{ id: "moss", name: "Moss", where: own("damp") }],
    decals: [{ id: "leak", name: "Leak", where: own("wet") }],
    droplets: [{ id: "rain", name: "Rain", where: own("wet") }],
    grass: [{ id: "turf", name: "Turf", where: own("wet"), tall_where: own("wet") }],
  } as unknown as SiteDocument;
}

describe("shared masks", () => {
  it("takes a mask's cards as they are, and others follow them", () => {
    let document = site();
    document = applyOperations(document, share(document.weather[0].where, "/weather/0/where", "m", "Damp"));
    expect(document.wheres).toEqual([{ id: "m", name: "Damp", cards: [card("damp")] }]);
    const edited = chainOf(document, document.weather[0].where, "/weather/0/where");
    expect(edited.path).toBe("/wheres/0/cards");
    document = applyOperations(document, follow(document.wheres[0], "/planting/0/mix/1/where"));
    expect(document.planting[0].mix[1].where.cards).toEqual([card("damp")]);
    document = applyOperations(document, follow(document.wheres[0], "/decals/0/where"));
    document = applyOperations(document, follow(document.wheres[0], "/droplets/0/where"));
    document = applyOperations(document, follow(document.wheres[0], "/grass/0/tall_where"));
    expect(followers(document, "m").grass.map(({ id }) => id)).toEqual(["turf"]);
    expect(followers(document, "m").droplets.map(({ id }) => id)).toEqual(["rain"]);
    expect(followers(document, "m").decals.map(({ id }) => id)).toEqual(["leak"]);
    const found = followers(document, "m");
    expect([found.planting.map(({ id }) => id), found.weather.map(({ id }) => id)]).toEqual([["ferns"], ["moss"]]);
  });

  it("counts sizes and kinds, and a layer once", () => {
    let document = site();
    document = applyOperations(document, share(document.planting[0].where, "/planting/0/where", "m", "Shade"));
    for (const path of ["/planting/0/size_where", "/planting/0/mix/0/where", "/planting/1/size_where"])
      document = applyOperations(document, follow(document.wheres[0], path));
    expect(followers(document, "m").planting.map(({ id }) => id)).toEqual(["ferns", "grass"]);
  });

  it("goes its own way with the cards of the moment, and leaves the others", () => {
    let document = site();
    document = applyOperations(document, share(document.weather[0].where, "/weather/0/where", "m", "Damp"));
    document = applyOperations(document, follow(document.wheres[0], "/planting/1/where"));
    document = applyOperations(document, [{ op: "add", path: "/wheres/0/cards/-", value: card("noise") }]);
    // The follower's own copy is behind until the server has answered.
    document = applyOperations(document, detach(document, document.planting[1].where, "/planting/1/where"));
    expect(document.planting[1].where).toEqual(own("damp", "noise"));
    expect(followers(document, "m").weather).toHaveLength(1);
    expect(followers(document, "m").planting).toHaveLength(0);
  });

  it("edits its own cards where it follows none, or one that is gone", () => {
    const document = site();
    for (const shared of ["", "gone"]) {
      const found = chainOf(document, { cards: [card("x")], shared }, "/weather/0/where");
      expect([found.shared, found.path, found.cards]).toEqual([null, "/weather/0/where/cards", [card("x")]]);
    }
  });
});
