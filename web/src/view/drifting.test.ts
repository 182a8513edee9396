import * as THREE from "three";
import { describe, expect, it } from "vitest";
import type { Drift } from "../api/daylight";
import type { Pack } from "../api/pack";
import { drawnOf, driftingMesh, seeds, type ShelterMeta } from "./drifting";
import { uniformsOf } from "./uniforms";

const rain: Drift = {
  kind: "rain",
  number: 1,
  wide: 0.001,
  long: 1,
  falls: 6,
  carried: 6,
  shutter: 0.02,
  sways: 0,
  turns: 0,
  hides: 0.3,
  about: 16,
  sheltered: true,
  colours: [
    [1, 1, 1],
    [1, 1, 1],
    [1, 1, 1],
  ],
};
const shelter = {
  arrays: { tops: { data: new Float32Array(6), shape: [2, 3] } },
  meta: { low: [-1, -2], cell: 0.5, source: [0.6, 0.8, 0] },
} as unknown as Pack<ShelterMeta>;

describe("what drifts about the eye", () => {
  it("is as many as fall, and no more than a machine bears", () => {
    expect(drawnOf(rain)).toBe(16 ** 3);
    expect(drawnOf({ ...rain, number: 1e6 })).toBe(drawnOf({ ...rain, number: 1e7 }));
  });

  it("is spread over its cube evenly, the same each time", () => {
    const places = seeds(8000);
    expect(places).toEqual(seeds(8000));
    // Every eighth of the cube has its share.
    const found = new Array(8).fill(0);
    for (let i = 0; i < places.length; i += 4)
      found[[0, 1, 2].reduce((sum, k) => sum + (places[i + k] >= 0.5 ? 1 << k : 0), 0)] += 1;
    expect(Math.min(...found)).toBeGreaterThan(950);
    expect(Math.max(...places)).toBeLessThan(1);
  });

  it("falls along the way that rain comes from, with the time of the wind, and is never picked", () => {
    const uniforms = uniformsOf(new THREE.Scene());
    const mesh = driftingMesh(rain, shelter, uniforms);
    const material = mesh.material as THREE.ShaderMaterial;
    const velocity = material.uniforms.velocity.value as THREE.Vector3;
    expect(velocity.distanceTo(new THREE.Vector3(-4.5, -6, 0))).toBeLessThan(1e-9);
    expect(material.uniforms.time).toBe(uniforms.wind.windTime);
    expect(material.uniforms.topsLong.value.toArray()).toEqual([1, 0.5]);
    expect((mesh.geometry as THREE.InstancedBufferGeometry).instanceCount).toBe(drawnOf(rain));
    // What is told for none hides no more than one of its kind.
    expect(material.uniforms.hides.value).toBe(0.3);
    const caster = new THREE.Raycaster(new THREE.Vector3(0, 0, 5), new THREE.Vector3(0, 0, -1));
    expect(caster.intersectObject(mesh)).toEqual([]);
  });

  it("rises where it does, with the wind", () => {
    const ember = { ...rain, kind: "embers", falls: -1, carried: 3, sheltered: false };
    const { uniforms } = driftingMesh(ember, shelter, uniformsOf(new THREE.Scene())).material as THREE.ShaderMaterial;
    expect((uniforms.velocity.value as THREE.Vector3).toArray()).toEqual([(-0.6 / 0.8) * 3, 1, -0]);
    expect(uniforms.sheltered.value).toBe(false);
  });
});
