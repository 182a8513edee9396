import { describe, expect, it } from "vitest";
import { digitOf, KEYED, PARTS, partOf } from "./registry";

describe("the parts of a site", () => {
  it("are found as files, from the ground upward, each with a place and a colour of its own", () => {
    expect(PARTS.map(({ part }) => part)).toEqual(
      expect.arrayContaining(["ground", "zones", "structures", "planting", "weather", "water", "light", "shots"]),
    );
    expect(KEYED.map(({ order }) => order)).toEqual([...KEYED.keys()].map((row) => row + 1));
    expect(PARTS.map(digitOf)).toEqual(["1", "2", "3", undefined, "4", "5", "6", undefined, "7", "8", "9", "0"]);
    expect(new Set(PARTS.map(({ tone }) => tone)).size).toBe(PARTS.length);
    expect(partOf("weather")?.list).toBe("weather");
    expect(partOf("name" as never)).toBeUndefined();
  });

  it("take a deleted structure out of the covers that lie on it", () => {
    const document = {
      structures: [{ id: "a" }, { id: "b" }],
      weather: [{ surfaces: ["a", "b"] }, { surfaces: ["a"] }],
      droplets: [{ surfaces: ["b"] }],
      grass: [{ surfaces: ["ground", "b"] }],
    };
    expect(partOf("structures")!.deletion!(document as never, 1)).toEqual([
      { op: "remove", path: "/structures/1" },
      { op: "replace", path: "/weather/0/surfaces", value: ["a"] },
      { op: "replace", path: "/droplets/0/surfaces", value: [] },
      { op: "replace", path: "/grass/0/surfaces", value: ["ground"] },
    ]);
  });
});
