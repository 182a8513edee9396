import { describe, expect, it } from "vitest";
import type { SiteDocument, Vocabulary } from "../api/client";
import { coverFrom, type LibraryEntry } from "./library";

const vocabulary = {
  covers: [{ kind: "moss", name: "Moss", where: { cards: [], shared: "" } }],
} as unknown as Vocabulary;
const entry = {
  name: "Thick moss",
  cover: "moss",
  recipe: { cover: { kind: "moss", amount: 2 }, where: { cards: [{ id: "damp" }], shared: "" }, on_items: false },
} as unknown as LibraryEntry;

describe("a cover by a kept recipe", () => {
  it("has all of the recipe, and the surfaces that it is wanted on", () => {
    const document = { weather: [] } as unknown as SiteDocument;
    expect(coverFrom(document, vocabulary, entry, ["wall"])).toMatchObject({
      name: "Thick moss",
      cover: { kind: "moss", amount: 2 },
      where: { cards: [{ id: "damp" }] },
      on_items: false,
      surfaces: ["wall"],
      strengths: {},
      shown: true,
    });
  });

  it("has a name and an id of its own, so that a recipe can be used twice", () => {
    const first = coverFrom({ weather: [] } as unknown as SiteDocument, vocabulary, entry, []);
    const document = { weather: [first] } as unknown as SiteDocument;
    const second = coverFrom(document, vocabulary, entry, []);
    expect(second.name).not.toBe(first.name);
    expect(second.id).not.toBe(first.id);
  });
});
