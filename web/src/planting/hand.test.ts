import { describe, expect, it } from "vitest";
import type { Scatter } from "../api/client";
import { applyOperations } from "../site/patch";
import { defaultsOfGroup } from "../api/declared";
import type { Placements } from "../site/placements";
import { anglesOf, changes, idOf, inLoop, picksIn, placedOf, plantOne, removals, repick } from "./hand";

/** Three items: two by rule, one by hand. */
const placements = {
  item: Int16Array.of(0, 1, 1),
  variant: Int16Array.of(0, 2, 1),
  position: Float32Array.of(0, 0, 0, 1, 0, 0, 5, 0, 5),
  rotation: Float32Array.of(0, 0, 0, 1, 0, Math.SQRT1_2, 0, Math.SQRT1_2, 0, 0, 0, 1),
  size: Float32Array.of(1, 1.5, 1),
  tint: new Float32Array(9),
  rank: new Uint16Array(3),
  id: Uint32Array.of(0xff, 0x1, 0xabcdef01, 0x80000000, 3, 0),
  origin: Uint8Array.of(0, 0, 2),
  meta: { items: ["grass_tuft", "fern"], count: 3, triangles: 0, densest: null },
} satisfies Placements;

const layer = {
  ...defaultsOfGroup("Scatter"),
  id: "one",
  name: "One",
  mix: [
    { ...defaultsOfGroup("MixItem"), item: "grass_tuft", share: 0 },
    { ...defaultsOfGroup("MixItem"), item: "fern" },
  ],
  planted: [
    { ...defaultsOfGroup("Planted"), id: "mine", item: "fern", position: [5, 0, 5], instead: "00000000000000aa" },
  ],
  removed: ["00000000000000bb"],
} as unknown as Scatter;
const site = { planting: [layer] };
const ids = [0, 1, 2].map((row) => idOf(placements, row));

describe("placed items", () => {
  it("have ids of sixteen digits, the higher half first", () => {
    expect(ids).toEqual(["00000001000000ff", "80000000abcdef01", "0000000000000003"]);
  });

  it("are found by their ids, with kind, pose and size", () => {
    const [found] = placedOf(placements, [ids[1]]);
    expect(found).toMatchObject({ item: "fern", variant: 2, position: [1, 0, 0], size: 1.5, origin: 0 });
    expect(anglesOf(found.rotation)).toEqual({ turn: 90, tip: 0, roll: 0 });
    expect(placedOf(placements, ["ffffffffffffffff"])).toEqual([]);
  });
});

describe("picking again what has another id", () => {
  it("finds it by its place once it stands there by hand, and only once", () => {
    repick("one", [[5, 0, 5]]);
    expect(picksIn("other", placements)).toBeNull();
    expect(picksIn("one", placements)).toEqual([ids[2]]);
    expect(picksIn("one", placements)).toBeNull();
  });

  it("waits for all of it, and takes nothing that rules have placed", () => {
    repick("one", [
      [5, 0, 5],
      [1, 0, 0],
    ]);
    expect(picksIn("one", placements)).toBeNull();
    const moved = { ...placements, origin: Uint8Array.of(0, 2, 2) };
    expect(picksIn("one", moved)).toEqual([ids[1], ids[2]]);
  });
});

describe("taking away", () => {
  it("keeps the ids of what rules placed, and takes planted ones out with what they stand for", () => {
    const after = applyOperations(site, removals(layer, "/planting/0", placedOf(placements, [ids[0], ids[2]])));
    expect(after.planting[0].planted).toEqual([]);
    expect(after.planting[0].removed).toEqual(["00000000000000bb", ids[0], "00000000000000aa"]);
  });

  it("of nothing changes nothing", () => {
    expect(removals(layer, "/planting/0", [])).toEqual([]);
  });
});

describe("changing", () => {
  it("keeps an item by rule as it was left, and changes a planted one where it stands", () => {
    const operations = changes(layer, "/planting/0", placedOf(placements, [ids[1], ids[2]]), ({ size }) => ({
      size: size * 2,
    }));
    const { planted } = applyOperations(site, operations).planting[0];
    expect(planted).toHaveLength(2);
    expect(planted[0]).toMatchObject({ id: "mine", size: 2, instead: "00000000000000aa" });
    expect(planted[1]).toMatchObject({
      instead: ids[1],
      item: "fern",
      variant: 2,
      turn: 90,
      size: 3,
      position: [1, 0, 0],
    });
  });

  it("plants the kinds of the mix that have a share, where it was clicked", () => {
    const { planted } = applyOperations(site, plantOne(layer, "/planting/0", [1.23456, 0, 2])).planting[0];
    expect(planted[1]).toMatchObject({ item: "fern", position: [1.235, 0, 2], instead: "" });
    expect(planted[1].size).toBeGreaterThanOrEqual(0.8);
  });
});

describe("a loop", () => {
  it("holds what lies inside, in a bay of it not", () => {
    const bay: [number, number][] = [
      [0, 0],
      [10, 0],
      [10, 10],
      [5, 4],
      [0, 10],
    ];
    expect(inLoop([2, 3], bay)).toBe(true);
    expect(inLoop([5, 8], bay)).toBe(false);
    expect(inLoop([12, 3], bay)).toBe(false);
  });
});
