import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { SiteDocument } from "../api/client";
import {
  aimedAt,
  composed,
  inOwnFrame,
  pivotOf,
  type Placement,
  type Point,
  poseOf,
  shifted,
  shiftOperations,
  wrapped,
} from "./poses";
import { onLevel, onStem } from "../view/reach";

const at = (position: Point, more: Partial<Placement> = {}): Placement => ({
  position,
  turn: 0,
  tip: 0,
  roll: 0,
  size: 1,
  ...more,
});
const near = (values: number[]) => values.map((value) => expect.closeTo(value, 3) as number);

describe("poses", () => {
  it("turn as the core does: x towards −z", () => {
    const point = new THREE.Vector3(1, 0, 0).applyMatrix4(poseOf(at([0, 0, 0], { turn: 90 })));
    expect(point.toArray()).toEqual(near([0, 0, -1]));
  });

  it("roll first, then tip, then turn", () => {
    const point = new THREE.Vector3(1, 0, 0).applyMatrix4(poseOf(at([0, 0, 0], { turn: 90, tip: 90, roll: 90 })));
    // Rolled to +y, tipped to +z, turned to +x.
    expect(point.toArray()).toEqual(near([1, 0, 0]));
  });

  it("go about a common pivot, so that a group keeps its shape", () => {
    const moved = shifted(at([2, 0.5, 0], { turn: 10 }), [1, 0, 0], { by: [0, 1, 3], turn: 90 });
    expect(moved.position).toEqual(near([1, 1.5, 2]));
    expect(moved.turn).toBe(100);
  });

  it("keep turns in one round", () => {
    expect([190, -190, 360, 540].map(wrapped)).toEqual([-170, 170, 0, 180]);
  });

  it("of pieces in a heap are told in the world", () => {
    const frame = at([1, 2, 3], { turn: 90, size: 2 });
    const world = composed(frame, { position: [1, 0, 0], turn: 30, tip: 20, roll: 10 });
    expect(world.position).toEqual(near([1, 2, 1]));
    expect([world.turn, world.tip, world.roll, world.size]).toEqual(near([120, 20, 10, 2]));
  });

  it("give points of the world in an object's own frame and size", () => {
    const [own] = inOwnFrame([[1, 2, 1]], at([1, 2, 3], { turn: 90, size: 2 }));
    expect(own).toEqual(near([1, 0, 0]));
    expect(inOwnFrame([[1, 2, 1]], null)).toEqual([[1, 2, 1]]);
  });

  it("become operations by row", () => {
    const document = { structures: ["a", "b"].map((id, row) => ({ id, placement: at([row, 0, 0]) })) };
    const pivot = pivotOf(document.structures as never);
    expect(pivot).toEqual([0.5, 0, 0]);
    const [operation] = shiftOperations(document as unknown as SiteDocument, ["b"], pivot, { by: [0, 0, 2], turn: 0 });
    expect(operation).toMatchObject({ op: "replace", path: "/structures/1/placement", value: { position: [1, 0, 2] } });
  });
});

describe("a lamp that is aimed", () => {
  const pose = { position: [1, 2, 3] as Point, turn: 40, tip: 10, roll: 5 };
  it("points down its own axis at the place, wherever that is", () => {
    for (const place of [
      [4, 0, 3],
      [1, 1, -5],
      [-2, 6, 3.5],
      [1, 0, 3],
      [1, 9, 3],
    ] as Point[]) {
      const aimed = aimedAt(pose, place);
      const axis = new THREE.Vector3(0, -1, 0).transformDirection(poseOf(aimed));
      const wanted = new THREE.Vector3(...place).sub(new THREE.Vector3(1, 2, 3)).normalize();
      expect(axis.distanceTo(wanted)).toBeLessThan(1e-3);
      expect([aimed.position, aimed.roll]).toEqual([[1, 2, 3], 0]);
    }
  });

  it("stays as it is at its own place, and keeps its turn straight above or below", () => {
    expect(aimedAt(pose, [1, 2, 3])).toEqual(pose);
    expect(aimedAt(pose, [1, 0, 3]).turn).toBe(40);
  });
});

describe("the pointer", () => {
  const camera = new THREE.PerspectiveCamera(60, 1, 0.1, 100);
  camera.position.set(0, 2, 5);
  camera.lookAt(0, 0, 0);
  camera.updateMatrixWorld();
  const screen = (point: Point) => {
    const seen = new THREE.Vector3(...point).project(camera);
    return new THREE.Vector2(seen.x, seen.y);
  };

  it("is found on a level plane", () => {
    expect(onLevel(screen([1, 0.5, -1]), camera, 0.5)).toEqual(near([1, 0.5, -1]));
    expect(onLevel(new THREE.Vector2(0, -1), camera, 50)).toBeNull();
  });

  it("is found on an upright line", () => {
    expect(onStem(screen([0.4, 1.3, 0]), camera, [0.4, 0, 0])).toBeCloseTo(1.3, 3);
  });
});
