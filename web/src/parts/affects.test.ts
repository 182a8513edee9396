import { describe, expect, it, vi } from "vitest";
import type { SceneManifest, SiteDocument } from "../api/client";
import { learn, wantedFor } from "../view/preview";
import { AFFECTS } from "./registry";

vi.mock("../site/machine", () => ({ drawnByProcessor: true }));

const document = {
  weather: [
    { id: "moss", surfaces: ["wall", "hidden"], where: { shared: "m" } },
    { id: "dirt", surfaces: ["ground"], where: { shared: "" } },
  ],
  planting: [
    {
      id: "grass",
      surfaces: ["ground"],
      shown: true,
      mix: [{ item: "grass_tuft", where: {} }],
      where: {},
      size_where: {},
    },
    {
      id: "leaves",
      surfaces: ["ground"],
      shown: true,
      mix: [{ item: "dead_leaves", where: { shared: "m" } }],
      where: {},
      size_where: {},
    },
  ],
  wheres: [{ id: "m" }],
  droplets: [],
  grass: [],
  decals: [
    { id: "tags", lasts: 12, spread: { on: true, surfaces: ["wall"] }, where: { shared: "" } },
    { id: "stains", lasts: 0, spread: { on: true, surfaces: ["ground"] }, where: { shared: "m" } },
  ],
} as unknown as SiteDocument;
const scene = {
  surfaces: [
    { id: "ground", cells: 100_000 },
    { id: "wall", cells: 50_000 },
  ],
  items: [
    { kind: "grass_tuft", litter: false },
    { kind: "dead_leaves", litter: true },
  ],
  blankets: [{ layer: "dirt" }],
} as unknown as SceneManifest;
const change = (path: string) => [{ op: "replace" as const, path, value: 1 }];

describe("what a change asks a preview for", () => {
  it("is the surfaces that share the changed recipe, as far as they are shown", () => {
    expect(wantedFor(document, scene, change("/weather/0/where/cards/0/full_at"), null, AFFECTS)).toMatchObject({
      surfaces: ["wall"],
      scatters: [],
      mask_of: null,
    });
  });

  it("is the layer whose density changes, and all of what a season touches", () => {
    expect(wantedFor(document, scene, change("/planting/0/density"), null, AFFECTS)).toMatchObject({
      scatters: ["grass"],
    });
    expect(wantedFor(document, scene, change("/climate/season"), null, AFFECTS)).toMatchObject({
      surfaces: ["wall", "ground"],
      scatters: ["leaves"],
    });
    expect(wantedFor(document, scene, change("/climate/years"), null, AFFECTS)!.scatters).toEqual([]);
  });

  it("is all that follows a shared mask, and the wind without anything else", () => {
    expect(wantedFor(document, scene, change("/wheres/0/cards/0/full_at"), null, AFFECTS)).toMatchObject({
      surfaces: ["wall", "ground"],
      scatters: ["leaves"],
    });
    expect(wantedFor(document, scene, change("/wind/strength"), null, AFFECTS)).toMatchObject({
      surfaces: [],
      scatters: [],
    });
  });

  it("is what a decal lies on, and of those that years take away too", () => {
    expect(wantedFor(document, scene, change("/decals/1/opacity"), null, AFFECTS)!.surfaces).toEqual(["ground"]);
    expect(AFFECTS.climate({ path: "/climate/years", steps: ["years"] }, document, scene).surfaces).toEqual([
      ...["wall", "hidden", "ground"],
      "wall",
    ]);
    expect(AFFECTS.wheres({ path: "/wheres/0", steps: ["0"] }, document, scene).surfaces).toContain("ground");
  });

  it("is a mask where one is looked at, and nothing where nothing shows", () => {
    const picked = { part: "planting" as const, id: "grass" };
    expect(wantedFor(document, scene, [], picked, AFFECTS)).toMatchObject({ mask_of: "grass", surfaces: ["ground"] });
    expect(wantedFor(document, scene, change("/light/sun_strength"), null, AFFECTS)).toBeNull();
  });

  it("is the sheets of deep covers where the snow, or what lies as a sheet, is changed", () => {
    const asked = (path: string) => wantedFor(document, scene, change(path), null, AFFECTS)!.blankets;
    expect(["/climate/snow", "/climate", "/weather/1/cover/slides"].map(asked)).toEqual([true, true, true]);
    expect(["/climate/years", "/weather/0/cover/amount"].map(asked)).toEqual([false, false]);
  });

  it("is coarser where answers have been slow", () => {
    const asked = () => wantedFor(document, scene, change("/climate/years"), null, AFFECTS)!.coarser;
    for (let i = 0; i < 20; i++) learn(5);
    expect(asked()).toBe(0);
    for (let i = 0; i < 20; i++) learn(2000);
    expect(asked()).toBeGreaterThan(0);
  });
});
