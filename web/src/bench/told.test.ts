import { describe, expect, it } from "vitest";
import type { SiteDocument } from "../api/client";
import { declaredKind, defaultsOf } from "../api/declared";
import { told } from "./told";

const document = {
  structures: [
    { id: "towpath", name: "Towpath" },
    { id: "house", name: "House" },
    { id: "wall", name: "Wall" },
  ],
  zones: [{ id: "bed", name: "Flower bed" }],
  planting: [{ id: "trees", name: "Trees" }],
} as unknown as SiteDocument;
const words = (kind: string, values: object) => told({ ...defaultsOf(kind), ...values }, declaredKind(kind), document);

describe("a card", () => {
  it("tells what it measures to", () => {
    expect(words("distance", { objects: ["towpath", "house"] })).toBe("Towpath, House");
    expect(words("distance", { objects: ["towpath", "house", "wall"] })).toBe("Towpath and 2 more");
    expect(words("zone", { zones: ["bed"] })).toBe("Flower bed");
    expect(words("leaf_fall", { layers: ["trees"] })).toBe("Trees");
    expect(words("distance", { objects: ["gone"] })).toBe("gone");
  });

  it("tells a look that is not the usual one, and what is switched on", () => {
    expect(words("noise", { look: "veins" })).toBe("veins");
    expect(words("height", { above_water: true })).toBe("above water");
    expect(words("slope", {})).toBe("");
    expect(words("distance", {})).toBe("");
  });
});
