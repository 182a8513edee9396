import * as THREE from "three";
import { describe, expect, it, vi } from "vitest";
import type { Pack } from "../api/pack";
import { growWithin, levelAt, registerSwards, swardsOf, wholeWithin } from "./grass";

vi.mock("../site/machine", () => ({ drawnByProcessor: false }));

const material = { material: new THREE.MeshBasicMaterial(), whole: { value: 0 }, dispose: () => undefined };

/** A pack of squares of blades in a row along x, each a metre wide. */
function packed(counts: number[]): Pack {
  const all = counts.reduce((sum, count) => sum + count, 0);
  const first = counts.reduce<number[]>((sums, count) => [...sums, sums.at(-1)! + count], [0]);
  const array = (data: ArrayLike<number>) => ({ data, shape: [] });
  return {
    arrays: {
      place: array(new Uint16Array(all * 4).fill(65535)),
      look: array(new Uint8Array(all * 4).fill(7)),
      lie: array(new Uint8Array(all * 4).fill(9)),
      first: array(new Uint32Array(first)),
      box: array(new Float32Array(counts.flatMap((_, row) => [row, 0, -1, row + 1, 0.5, 0]))),
    },
    meta: {},
  } as unknown as Pack;
}

function camera(): THREE.PerspectiveCamera {
  const made = new THREE.PerspectiveCamera(60, 1.5, 0.1, 100);
  made.position.set(0.5, 1, 4);
  made.lookAt(0.5, 0, 0);
  made.updateMatrixWorld();
  return made;
}

describe("grass in the view", () => {
  it("is unpacked square by square, to where its blades stand", () => {
    const [, second] = swardsOf(packed([3, 5]), 0.4, material);
    expect(second.count).toBe(5);
    const { blade, look } = second.blades(2);
    expect(blade.count).toBe(2);
    [2, 0.5, 0, 0.4].forEach((value, k) => expect(blade.array[k]).toBeCloseTo(value, 5));
    expect(look.array[0]).toBe(7);
  });

  it("is drawn whole within a distance that the budget bears", () => {
    const near = [{ count: 1000, away: 2 }];
    expect(wholeWithin(near, 1e6)).toBe(16);
    const whole = wholeWithin([...near, { count: 100_000, away: 30 }], 20_000);
    expect(whole).toBeLessThan(16);
    const cost = 1000 * Math.min(1, whole / 2) * 8 + 100_000 * Math.min(1, whole / 30) * 2;
    expect(cost / 20_000).toBeGreaterThan(0.98);
    expect(cost).toBeLessThanOrEqual(20_000 * 1.0001);
  });

  it("has fewer points to a blade the farther away it is", () => {
    expect([1, 10, 60].map(levelAt)).toEqual([0, 1, 2]);
  });

  it("draws what is in sight alone, the first of each square, and holds no more than that on the card", () => {
    const scene = new THREE.Scene();
    const swards = swardsOf(packed([4000, 4000]), 0.2, material);
    const far = { ...swards[1], box: swards[1].box.clone().translate(new THREE.Vector3(500, 0, 0)), meshes: [] };
    const forget = registerSwards(scene, [swards[0], far]);
    const drawn = growWithin(scene, camera(), 10_000);
    expect(drawn).toBeGreaterThan(500);
    expect(drawn * 8).toBeLessThanOrEqual(10_000 * 0.6 + 16);
    const [mesh] = swards[0].meshes as THREE.Mesh[];
    const geometry = mesh.geometry as THREE.InstancedBufferGeometry;
    expect(geometry.instanceCount).toBe(drawn);
    expect(geometry.getAttribute("blade").count).toBeLessThan(2 * drawn);
    expect(far.meshes).toEqual([]);
    growWithin(scene, camera(), 1e7);
    expect((swards[0].meshes[0]!.geometry as THREE.InstancedBufferGeometry).instanceCount).toBe(4000);
    forget();
    expect(growWithin(scene, camera(), 1e7)).toBe(0);
  });
});
