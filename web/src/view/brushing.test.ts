import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { applyHeights, withPoint } from "./brushing";

describe("a stroke", () => {
  it("takes points that are apart, and leaves out those between", () => {
    let path: [number, number][] = [];
    for (let x = 0; x <= 1; x += 0.05) path = withPoint(path, x, 2, 1, 0.2);
    expect(path.length).toBeGreaterThanOrEqual(5);
    expect(path.length).toBeLessThanOrEqual(6);
    expect(path[0]).toEqual([0, 2]);
    expect(withPoint(path, path.at(-1)![0], 2, 1)).toBe(path);
  });
});

describe("heights on their way", () => {
  it("move the points of their window, and no others", () => {
    // A grid of 3 rows and 5 columns over 4 m by 2 m.
    const position = new THREE.BufferAttribute(new Float32Array(15 * 3), 3);
    for (let row = 0; row < 3; row++)
      for (let column = 0; column < 5; column++) position.setXYZ(row * 5 + column, column - 2, 0, row - 1);
    applyHeights(position, [4, 2], [3, 5], [1, 3, 2, 4], new Float32Array([1, 2, 3, 4]));
    const heights = Array.from({ length: 15 }, (_, i) => position.getY(i));
    expect(heights).toEqual([0, 0, 0, 0, 0, 0, 0, 1, 2, 0, 0, 0, 3, 4, 0]);
  });
});
