import { describe, expect, it } from "vitest";
import type { SiteDocument, Vocabulary } from "../api/client";
import { found, itemsOf, ownItem, placedBy } from "./items";

const entry = (kind: string, group: string, tags: string[]) => ({
  kind,
  title: kind[0].toUpperCase() + kind.slice(1),
  group,
  tags,
  help: "",
  variants: 3,
  triangles: [9, 3, 1],
  size: [1, 1, 1],
  grows: true,
  adjustable: false,
});
const vocabulary = {
  kit: [
    entry("fern", "herbs", ["shade"]),
    { ...entry("grass_tuft", "grasses", ["grass", "small"]), adjustable: true },
    entry("barrel", "timber", ["wood"]),
  ],
} as unknown as Vocabulary;
const document = {
  kit: [
    { id: "own-a", name: "Tall grass", source: { kind: "grass_tuft" } },
    { id: "own-b", name: "Statue", source: { kind: "imported_item" } },
  ],
  planting: [{ name: "Meadow", mix: [{ item: "own-a" }, { item: "fern" }] }],
  structures: [
    { name: "Old barrel", source: { kind: "kit_piece", item: "barrel" } },
    { name: "House", source: { kind: "made" } },
  ],
} as unknown as SiteDocument;

describe("the kit", () => {
  const items = itemsOf(document, vocabulary);
  it("lists the site's own items first", () => {
    expect(items.map((item) => item.kind)).toEqual(["own-a", "own-b", "fern", "grass_tuft", "barrel"]);
    expect(items[0].help).toBe("Made from grass_tuft.");
    expect(items[1].help).toBe("From a file.");
  });
  it("is searched by name, tag and group, all words counting", () => {
    const kinds = (search: string, group = "") => found(items, search, group).map((item) => item.kind);
    expect(kinds("grass")).toEqual(["own-a", "grass_tuft"]);
    expect(kinds("grass small tall")).toEqual(["own-a"]);
    expect(kinds("wood")).toEqual(["barrel"]);
    expect(kinds("", "herbs")).toEqual(["fern"]);
    expect(kinds("palm")).toEqual([]);
  });
  it("makes own items with the usual values of what they come from", () => {
    const own = ownItem(items[3], document);
    expect(own.name).toBe("Grass_tuft, own");
    expect(own.source).toMatchObject({ kind: "grass_tuft", blades: 40 });
  });
  it("knows who places an item", () => {
    expect(placedBy("own-a", document)).toEqual(["Meadow"]);
    expect(placedBy("barrel", document)).toEqual(["Old barrel"]);
    expect(placedBy("grass_tuft", document)).toEqual([]);
  });
});
