import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { EYE, isWalkKey, looked, stand, walked, walkerAt } from "./walking";

const north = { x: 0, z: 0, bearing: 0, up: 0, eye: EYE.usual };

describe("walking", () => {
  it("goes where one looks, sideways and round, as fast as one walks", () => {
    const ahead = walked(north, ["w"], 1, false);
    expect([ahead.x, ahead.z]).toEqual([0, -1.6]);
    const right = walked(north, ["d"], 1, false);
    expect([right.x, right.z]).toEqual([1.6, 0]);
    const east = walked({ ...north, bearing: Math.PI / 2 }, ["arrowup"], 1, false);
    expect(east.x).toBeCloseTo(1.6);
    expect(east.z).toBeCloseTo(0);
    expect(walked(north, ["w", "s"], 1, false).z).toBeCloseTo(0);
    expect(walked(north, ["w"], 1, true).z).toBeCloseTo(-6.4);
    expect(walked(north, ["arrowright"], 0.5, false).bearing).toBeCloseTo(0.6);
  });

  it("rises as far as flying, and no lower than the ground", () => {
    expect(walked(north, ["pageup"], 1, true).eye).toBeCloseTo(8.05);
    expect(walked(north, ["pagedown"], 9, true).eye).toBe(EYE.least);
    expect(walked(north, ["pageup"], 99, true).eye).toBe(EYE.most);
  });

  it("looks about with a drag, never over its own head", () => {
    const one = looked(north, 100, -1000);
    expect(one.bearing).toBeCloseTo(-0.4);
    expect(one.up).toBeGreaterThan(-1.5);
  });

  it("takes the camera's place, from a mast on foot, and gives it back where one looks", () => {
    const camera = new THREE.PerspectiveCamera();
    camera.position.set(3, 12, 5);
    const target = new THREE.Vector3(13, 2, 5);
    const walker = walkerAt(camera.position, target, 0.5);
    expect(walker).toMatchObject({ x: 3, z: 5, eye: EYE.usual });
    expect(walker.bearing).toBeCloseTo(Math.PI / 2);
    stand(walker, 0.5, camera, target);
    expect(camera.position.toArray()).toEqual([3, 0.5 + EYE.usual, 5]);
    expect(target.x).toBeGreaterThan(3);
    expect(target.y).toBeLessThan(camera.position.y);
    expect(walkerAt(new THREE.Vector3(0, 2.1, 0), target, 0.5).eye).toBeCloseTo(1.6);
  });

  it("has keys of its own", () => {
    expect(["w", "W", "ArrowLeft", "PageUp"].every(isWalkKey)).toBe(true);
    expect(["x", "Escape", "1"].some(isWalkKey)).toBe(false);
  });
});
