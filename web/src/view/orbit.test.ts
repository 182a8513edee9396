import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { orbited } from "./orbit";

const target = new THREE.Vector3(1, 2, 3);
const position = new THREE.Vector3(1, 5, 13);

describe("the camera by keys", () => {
  it("goes round what it looks at, at the same height and distance", () => {
    const after = orbited(position, target, [1, 0, 0]);
    expect(after.y).toBeCloseTo(5);
    expect(after.distanceTo(target)).toBeCloseTo(position.distanceTo(target));
    expect(orbited(after, target, [-1, 0, 0]).distanceTo(position)).toBeCloseTo(0);
  });

  it("goes up and down, and neither over the top nor far below the level", () => {
    expect(orbited(position, target, [0, 1, 0]).y).toBeGreaterThan(5);
    const top = orbited(position, target, [0, 1, 0], 100);
    expect(top.y - target.y).toBeCloseTo(position.distanceTo(target), 1);
    expect(orbited(position, target, [0, -1, 0], 100).y).toBeGreaterThan(target.y - 1);
  });

  it("goes nearer and away, and back", () => {
    const near = orbited(position, target, [0, 0, -1], 5);
    expect(near.distanceTo(target)).toBeLessThan(position.distanceTo(target) * 0.75);
    expect(orbited(near, target, [0, 0, 1], 5).distanceTo(position)).toBeCloseTo(0);
  });
});
