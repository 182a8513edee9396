import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { holdUpright, ratioOf, tangentOf } from "./lens";

const size = { width: 300, height: 200 };
const camera = () => {
  const made = new THREE.PerspectiveCamera(40, 1.5, 0.1, 100);
  made.position.set(0, 1.6, 10);
  return made;
};
const seen = (by: THREE.Camera, x: number, y: number, z: number) => new THREE.Vector3(x, y, z).project(by);

describe("a lens", () => {
  it("sees as much as it does on 36 × 24 mm, and fits its picture whole into the view", () => {
    const normal = { lens: 50, frame: "3:2", upright: false } as const;
    expect((Math.atan(tangentOf(normal, 1.5)) * 360) / Math.PI).toBeCloseTo(27, 1);
    expect(tangentOf(normal, 3)).toBeCloseTo(tangentOf(normal, 1.5));
    // In a narrow view its width decides.
    expect(tangentOf(normal, 0.75)).toBeCloseTo(2 * tangentOf(normal, 1.5));
    expect(tangentOf({ ...normal, frame: "16:9" }, 16 / 9)).toBeCloseTo(36 / (16 / 9) / 2 / 50);
    expect(ratioOf("2.39:1")).toBeCloseTo(2.39);
  });

  it("is shifted so that walls stay upright, and put back", () => {
    const target = new THREE.Vector3(0, 5, 0);
    const one = camera();
    holdUpright(one, target, true, size);
    expect(seen(one, 3, 0.5, 0).x).toBeCloseTo(seen(one, 3, 8, 0).x);
    expect(seen(one, 0, 5, 0).y).toBeCloseTo(0);
    holdUpright(one, target, false, size);
    expect(Math.abs(seen(one, 3, 0.5, 0).x - seen(one, 3, 8, 0).x)).toBeGreaterThan(0.05);
    expect(seen(one, 0, 5, 0).y).toBeCloseTo(0);
    expect(one.view?.enabled).toBe(false);
  });

  it("is not shifted where one looks steeply", () => {
    const one = camera();
    holdUpright(one, new THREE.Vector3(0, -40, 0), true, size);
    expect(one.view?.enabled ?? false).toBe(false);
  });
});
