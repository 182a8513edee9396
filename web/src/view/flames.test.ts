import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { flameMesh, flicker, stopsOf } from "./flames";
import { uniformsOf } from "./uniforms";

const flame = { wide: 0.4, tall: 0.6, radiance: [[0.02, 0.01, 0.004], [0.018, 0.006, 0.001], [0.01, 0.002, 0]] }; // prettier-ignore

describe("flames", () => {
  it("are as bright as they are, and no brighter than can be shown", () => {
    expect(stopsOf(flame, 10)[0].toArray()).toEqual([0.2, 0.1, 0.04]);
    const [foot, , tips] = stopsOf(flame, 1e5);
    expect(foot.x).toBeCloseTo(2.4);
    // The colours stay what they are against each other.
    expect(tips.x / foot.x).toBeCloseTo(0.5);
  });

  it("flicker about the light that they give", () => {
    const given = Array.from({ length: 2000 }, (_, k) => flicker(k / 100));
    expect(given.reduce((sum, one) => sum + one) / given.length).toBeCloseTo(1, 1);
    expect(Math.min(...given)).toBeGreaterThan(0.75);
    expect(Math.max(...given) - Math.min(...given)).toBeGreaterThan(0.2);
  });

  it("move with the time of the wind, and lean with it", () => {
    const uniforms = uniformsOf(new THREE.Scene());
    const mesh = flameMesh(flame, 1, uniforms);
    const { uniforms: own } = mesh.material as THREE.ShaderMaterial;
    expect(own.time).toBe(uniforms.wind.windTime);
    expect(own.windStrength).toBe(uniforms.wind.windStrength);
    expect((mesh.geometry as THREE.InstancedBufferGeometry).instanceCount).toBe(200);
  });
});
