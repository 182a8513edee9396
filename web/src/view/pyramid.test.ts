import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { Shot } from "../api/client";
import { made } from "../testing/onSite";
import { holdUpright, tangentOf } from "./lens";
import { pyramidOf, sharpFrom } from "./pyramid";

const shot = (more: object) => made<Shot>("Shot", { id: "a", position: [3, 2, 8], target: [0, 4, 0], ...more });

describe("what a shot takes in", () => {
  it("is what the camera sees through it, upright or not", () => {
    for (const upright of [false, true]) {
      const one = shot({ frame: "16:9", lens: 28, upright });
      const aspect = 16 / 9;
      const fov = (Math.atan(tangentOf(one, aspect)) * 360) / Math.PI;
      const camera = new THREE.PerspectiveCamera(fov, aspect, 0.1, 100);
      camera.position.set(3, 2, 8);
      const target = new THREE.Vector3(0, 4, 0);
      camera.lookAt(target);
      camera.updateMatrixWorld();
      holdUpright(camera, target, upright, { width: 1600, height: 900 });
      const corners = pyramidOf(one)
        .at(5)
        .map((corner) => corner.project(camera));
      expect(corners.map(({ x, y }) => [Math.round(x * 1e3) / 1e3, Math.round(y * 1e3) / 1e3])).toEqual([
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ]);
    }
  });

  it("has what is in focus as far ahead as it is", () => {
    expect(pyramidOf(shot({ target: [3, 2, 0] })).ahead(new THREE.Vector3(9, 7, 3))).toBeCloseTo(5);
    expect(pyramidOf(shot({ target: [3, -5, 8] })).at(1)[0].y).toBeCloseTo(1);
  });

  it("is sharp from here to there, as tables of depth of field say", () => {
    // 50 mm at f/2.8, set to 3 m: 2.73 m to 3.33 m; hyperfocal 29.8 m.
    const [near, far] = sharpFrom(50, 2.8, 3)!;
    expect([near, far].map((one) => Math.round(one * 100) / 100)).toEqual([2.73, 3.33]);
    expect(sharpFrom(50, 2.8, 40)![1]).toBe(Infinity);
    expect(sharpFrom(50, 0, 3)).toBeNull();
  });
});
