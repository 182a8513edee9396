import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { hangLeaves } from "./items";
import { uniformsOf } from "./uniforms";
import { setStiffness, setWind, swaying, swayingDepth } from "./wind";

type Shader = Parameters<THREE.Material["onBeforeCompile"]>[0];
const renderer = null as unknown as THREE.WebGLRenderer;
const uniforms = uniformsOf(new THREE.Scene());
const shaderOf = () =>
  ({
    uniforms: {},
    vertexShader: "void main() {\n#include <begin_vertex>\n}",
    fragmentShader: "void main() {}",
  }) as unknown as Shader;

describe("what sways", () => {
  it("bends copies in its shader, keeps what was done to it before, and follows the wind", () => {
    const material = new THREE.MeshBasicMaterial();
    material.onBeforeCompile = (shader) => (shader.fragmentShader += "// before");
    const shader = shaderOf();
    swaying(material, uniforms, 12, 0.8).onBeforeCompile(shader, renderer);
    expect(shader.fragmentShader).toContain("// before");
    expect(shader.vertexShader).toContain("uniform vec4 gustWaves[5]");
    expect(shader.vertexShader).toContain("#ifdef USE_INSTANCING");
    expect(shader.uniforms.swayOf.value.toArray()).toEqual([12, 0.8]);
    setWind(uniforms, { way: [0.6, 0.8], strength: 7, waves: [[1, 2, 3, 4, 0.5]], moment: 0, most: 1.4 });
    uniforms.wind.windTime.value = 2.5;
    expect(shader.uniforms.windWay.value.toArray()).toEqual([0.6, 0.8]);
    expect(shader.uniforms.windStrength.value).toBe(7);
    expect(shader.uniforms.windTime.value).toBe(2.5);
    expect(shader.uniforms.gustWaves.value[0].toArray()).toEqual([1, 2, 3, 4]);
    expect([...shader.uniforms.gustShares.value]).toEqual([0.5, 0, 0, 0, 0]);
  });

  it("stands otherwise in the wind while a stiffness is dragged", () => {
    const material = swaying(new THREE.MeshBasicMaterial(), uniforms, 12, 0.8);
    const shader = shaderOf();
    material.onBeforeCompile(shader, renderer);
    setStiffness(material, 30);
    expect(shader.uniforms.swayOf.value.toArray()).toEqual([30, 0.8]);
    setStiffness(material, null);
    setStiffness(new THREE.MeshBasicMaterial(), 5);
    expect(shader.uniforms.swayOf.value.x).toBe(30);
  });

  it("shares a program with its like, and not with what keeps still", () => {
    const still = new THREE.MeshBasicMaterial();
    const [one, other] = [10, 20].map((stiffness) => swaying(new THREE.MeshBasicMaterial(), uniforms, stiffness, 1));
    expect(one.customProgramCacheKey()).toBe(other.customProgramCacheKey());
    expect(one.customProgramCacheKey()).not.toBe(still.customProgramCacheKey());
    const shader = shaderOf();
    swayingDepth(uniforms, 10, 2).onBeforeCompile(shader, renderer);
    expect(shader.uniforms.swayOf.value.toArray()).toEqual([10, 2]);
  });
});

describe("leaves of the season", () => {
  it("are the first of the card, whole ones, and come back", () => {
    const geometry = new THREE.BufferGeometry();
    geometry.addGroup(0, 300, 0);
    geometry.addGroup(300, 240, 1);
    const counts = (share: number) => {
      hangLeaves(geometry, 1, share, 4);
      return geometry.groups.map(({ start, count }) => [start, count]);
    };
    expect(counts(0.5)).toEqual([[0, 300], [300, 120]]); // prettier-ignore
    expect(counts(0.33)[1]).toEqual([300, 7 * 12]);
    expect(counts(0)[1]).toEqual([300, 0]);
    expect(counts(1)[1]).toEqual([300, 240]);
  });
});
