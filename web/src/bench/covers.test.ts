import { describe, expect, it } from "vitest";
import type { SiteDocument, Vocabulary } from "../api/client";
import { applyOperations } from "../site/patch";
import { detached, strengthOn, swapped } from "./covers";

const site = {
  weather: [
    { id: "a", name: "Moss", cover: { kind: "moss" }, where: { cards: [1], shared: "m" }, surfaces: ["wall", "roof"], strengths: { roof: 0.5 } },
    { id: "b", name: "What the yard has", cover: { kind: "moss" }, where: { cards: [], shared: "" }, surfaces: ["ground"], strengths: {} },
  ],
} as unknown as SiteDocument; // prettier-ignore
const vocabulary = {
  covers: [
    { kind: "moss", title: "Moss", where: { cards: [] } },
    { kind: "snow", title: "Snow", where: { cards: ["sky"] } },
  ],
} as unknown as Vocabulary;

describe("covers", () => {
  it("are swapped everywhere at once, with the usual mask of the new one", () => {
    const after = applyOperations(site, swapped(site, vocabulary, 0, "snow"));
    expect(after.weather[0]).toMatchObject({
      id: "a",
      name: "Snow",
      cover: { kind: "snow" },
      where: { cards: ["sky"], shared: "" },
      surfaces: ["wall", "roof"],
      strengths: { roof: 0.5 },
    });
    expect(applyOperations(site, swapped(site, vocabulary, 1, "snow")).weather[1].name).toBe("What the yard has");
  });

  it("are detached for one surface, which the shared recipe leaves", () => {
    const after = applyOperations(site, detached(site, 0, "roof", "Roof"));
    expect(after.weather.map(({ name, surfaces }) => [name, surfaces])).toEqual([
      ["Moss", ["wall"]],
      ["Moss on Roof", ["roof"]],
      ["What the yard has", ["ground"]],
    ]);
    expect(after.weather.map(({ strengths }) => strengths)).toEqual([{}, { roof: 0.5 }, {}]);
    expect(after.weather[1].id).not.toBe("a");
  });

  it("keep a strength only where it is another than the rest", () => {
    const [layer] = site.weather;
    const after = (strength: number) =>
      applyOperations(site, strengthOn(layer, "/weather/0", "wall", strength)).weather[0].strengths;
    expect(after(2)).toEqual({ roof: 0.5, wall: 2 });
    expect(after(1)).toEqual({ roof: 0.5 });
  });
});
