import { describe, expect, it } from "vitest";
import type { SiteDocument, Vocabulary } from "../api/client";
import { defaultsOfGroup } from "../api/declared";
import {
  entriesOf,
  freshMaterialName,
  grouped,
  newLayer,
  OWN_GROUP,
  ownFrom,
  type PatternLayer,
  variantSeeds,
} from "./recipes";

const starter = { ...defaultsOfGroup("PatternLayer"), kind: "pattern", name: "Layer" } as unknown as PatternLayer;
const recipe = { size: 2, depth: 0.01, uneven: 0.1, seed: 3, layers: [newLayer(starter, "pattern")] };
const vocabulary = {
  materials: [
    { kind: "brick", title: "Brick", group: "Walls", help: "Red.", recipe },
    { kind: "moss", title: "Moss", group: "Growth", help: "Green.", recipe },
  ],
} as unknown as Vocabulary;
const set = { kind: "texture_set", maps: "0".repeat(64), file_names: ["a_color.png"], size: 1, depth: 0.01, uneven: 0 };
const document = {
  materials: [
    { id: "own-1", name: "Brick, own", source: { kind: "recipe", ...recipe } },
    { id: "own-2", name: "Wall", source: set },
  ],
} as unknown as SiteDocument;

describe("materials of the bench", () => {
  const entries = entriesOf(document, vocabulary);
  it("are listed with the site's own first", () => {
    expect(entries.map((entry) => entry.kind)).toEqual(["own-1", "own-2", "brick", "moss"]);
    expect(entries[1].recipe).toBeNull();
    expect(entries[1].help).toContain("a_color.png");
  });
  it("are found by name or group", () => {
    expect(grouped(entries, "").map(([group]) => group)).toEqual([OWN_GROUP, "Walls", "Growth"]);
    expect(grouped(entries, "bri").flatMap(([, some]) => some.map((one) => one.kind))).toEqual(["own-1", "brick"]);
    expect(grouped(entries, "nothing")).toEqual([]);
  });
  it("become the site's own under a new name, as a copy", () => {
    const made = ownFrom(entries[2], document, 9);
    expect(made.name).toBe("Brick, own 2");
    expect(made.id).toMatch(/^own-[a-z0-9-]{1,36}$/);
    expect(made.source).toMatchObject({ kind: "recipe", seed: 9, size: 2 });
    expect((made.source as { layers: unknown }).layers).not.toBe(recipe.layers);
    expect(freshMaterialName("Slate", document)).toBe("Slate");
  });
  it("have layers with their usual values", () => {
    expect(newLayer(starter, "grade")).toMatchObject({ kind: "grade", contrast: 1, mask: null });
    expect(newLayer(starter, "pattern", "cells")).toMatchObject({
      kind: "pattern",
      shows: "everywhere",
      drawn: { pattern: { kind: "cells" } },
    });
  });
  it("are compared in four variants", () => {
    expect(new Set(variantSeeds(9990)).size).toBe(4);
    expect(variantSeeds(5)[0]).toBe(5);
  });
});
