import { describe, expect, it } from "vitest";
import type { Pack } from "../api/pack";
import { laidGeometry } from "./laid";

const pack = (more: Pack["arrays"] = {}): Pack => ({
  arrays: {
    position: { data: new Float32Array([0, 1, 0, 4, 1, 0, 0, 1, 6]), shape: [3, 3] },
    normal: { data: new Float32Array([0, 1, 0, 0, 1, 0, 0, 1, 0]), shape: [3, 3] },
    index: { data: new Uint32Array([0, 2, 1]), shape: [3] },
    ...more,
  },
  meta: {},
});

describe("what a material is laid over", () => {
  it("has it repeat as seen from above, at its own size", () => {
    const made = laidGeometry(pack(), 2);
    expect([...made.getAttribute("uv").array]).toEqual([0, 0, 2, 0, 0, -3].map((one) => one || expect.closeTo(0, 9)));
    expect(made.getAttribute("color")).toBeUndefined();
    expect(made.boundingSphere!.radius).toBeGreaterThan(3);
  });

  it("is tinted point by point where it has tints", () => {
    const colour = { data: new Float32Array(9).fill(0.5), shape: [3, 3] };
    expect(laidGeometry(pack({ colour }), 2).getAttribute("color").getX(2)).toBe(0.5);
  });
});
