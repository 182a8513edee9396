import { describe, expect, it } from "vitest";
import { applyOperations, valueAt } from "./patch";

const site = { layers: [{ name: "a", on: true }, { name: "b" }], climate: { years: 3 }, "odd/key~": 1 };

describe("operations on a document", () => {
  it("replaces, adds and removes without touching what was given", () => {
    const before = JSON.stringify(site);
    const after = applyOperations(site, [
      { op: "replace", path: "/layers/0/name", value: "c" },
      { op: "add", path: "/layers/-", value: { name: "d" } },
      { op: "add", path: "/layers/0", value: { name: "first" } },
      { op: "remove", path: "/layers/2" },
      { op: "replace", path: "/climate/years", value: 9 },
    ]);
    expect(after.layers.map((layer) => layer.name)).toEqual(["first", "c", "d"]);
    expect(after.climate.years).toBe(9);
    expect(JSON.stringify(site)).toBe(before);
  });

  it("leaves what it does not change as the same objects, so that nothing is drawn anew for it", () => {
    const after = applyOperations(site, [{ op: "replace", path: "/climate/years", value: 4 }]);
    expect(after.layers).toBe(site.layers);
    expect(after.climate).not.toBe(site.climate);
  });

  it("reads escaped steps (RFC 6901)", () => {
    expect(valueAt(site, "/odd~1key~0")).toBe(1);
    expect(valueAt(site, "/layers/1/name")).toBe("b");
    expect(valueAt(site, "/layers/7/name")).toBeUndefined();
    expect(applyOperations(site, [{ op: "remove", path: "/odd~1key~0" }])).not.toHaveProperty("odd/key~");
  });

  it("replaces the whole", () => {
    expect(applyOperations(site as unknown, [{ op: "replace", path: "", value: 1 }])).toBe(1);
  });
});
