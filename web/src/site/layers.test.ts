import { describe, expect, it } from "vitest";
import type { SiteDocument, Vocabulary } from "../api/client";
import { freshName, newCover, newScatter, newStructure } from "./layers";

const document = {
  structures: [
    { id: "a", name: "House" },
    { id: "b", name: "House 2" },
  ],
  planting: [],
  weather: [
    { id: "m", name: "Moss", surfaces: ["a", "b", "ground"] },
    { id: "d", name: "Dirt", surfaces: ["b"] },
  ],
  shots: [{ id: "s", name: "Shot" }],
} as unknown as SiteDocument;

const vocabulary = {
  signals: ["slope", "distance", "noise"].map((kind) => ({ kind })),
  covers: [{ kind: "moss", title: "Moss", where: { cards: [{ id: "x" }] } }],
  makers: [{ kind: "house", title: "House" }],
  starters: { scatter: { id: "new", name: "Mixed growth", density: 3, surfaces: [], mix: [{ item: "fern" }] } },
} as unknown as Vocabulary;

describe("layers", () => {
  it("get a name that none has yet", () => {
    expect(freshName("Moss", ["Dirt"])).toBe("Moss");
    expect(freshName("House", ["House", "House 2"])).toBe("House 3");
  });

  it("begin as the core has them begin, under an id and on a surface of their own", () => {
    const layer = newScatter(document, vocabulary, "ground");
    expect(layer).toMatchObject({ name: "Mixed growth", surfaces: ["ground"], density: 3 });
    expect(layer.id).toMatch(/^[a-z0-9][a-z0-9_-]*$/);
    expect(newScatter(document, vocabulary, "ground").id).not.toBe(layer.id);
    expect(layer.mix).not.toBe((vocabulary.starters.scatter as typeof layer).mix);
  });

  it("begin with what a cover usually has, and a structure where it is set down", () => {
    const moss = newCover(document, vocabulary, "moss", ["a", "b"]);
    expect(moss).toMatchObject({ name: "Moss 2", surfaces: ["a", "b"], cover: { kind: "moss", joints: 0.65 } });
    const house = newStructure(document, vocabulary, "house", [1, 2, 3]);
    expect(house).toMatchObject({
      name: "House 3",
      placement: { position: [1, 2, 3], turn: 0, tip: 0, roll: 0, size: 1 },
    });
  });
});
