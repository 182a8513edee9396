import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { anyCoat, BREAKS, coated, disposeCoat, setCoats, withCoat } from "./coats";
import { uniformsOf } from "./uniforms";
import { swaying } from "./wind";

type Shader = Parameters<THREE.Material["onBeforeCompile"]>[0];
const renderer = null as unknown as THREE.WebGLRenderer;
const uniforms = uniformsOf(new THREE.Scene());
const coat = (strength: number, colour: number[]) => ({
  cover: "c",
  strength,
  colour,
  opacity: 0.8,
  soak: 0.1,
  above: 1,
});

describe("covers on items", () => {
  it("are told to all materials at once", () => {
    const shader = {
      uniforms: {},
      vertexShader: "#include <begin_vertex>",
      fragmentShader: "#include <color_fragment>",
    } as unknown as Shader;
    coated(new THREE.MeshBasicMaterial(), uniforms).onBeforeCompile(shader, renderer);
    setCoats(uniforms, [coat(0.5, [1, 1, 1]), coat(2, [0, 0.5, 0])]);
    expect(shader.uniforms.coatStrength.value.toArray()).toEqual([0.5, 2, 0, 0]);
    expect(shader.uniforms.coatColours.value[1].toArray()).toEqual([0, 0.5, 0]);
    expect(shader.vertexShader).toContain("attribute vec4 coat");
    expect(shader.fragmentShader.match(/coatColours\[\d\], share/g)).toHaveLength(4);
    setCoats(uniforms, []);
    expect(shader.uniforms.coatStrength.value.toArray()).toEqual([0, 0, 0, 0]);
  });

  it("stay those of their own view", () => {
    const [one, other] = [new THREE.Scene(), new THREE.Scene()].map(uniformsOf);
    setCoats(one, [coat(0.5, [1, 1, 1])]);
    expect(one.coats.coatStrength.value.x).toBe(0.5);
    expect(other.coats.coatStrength.value.x).toBe(0);
  });

  it("break up more on what bends", () => {
    const shaders = [
      coated(new THREE.MeshBasicMaterial(), uniforms),
      coated(new THREE.MeshBasicMaterial(), uniforms, 1, BREAKS.grows),
    ].map((material) => {
      const shader = { uniforms: {}, vertexShader: "", fragmentShader: "" } as unknown as Shader;
      material.onBeforeCompile(shader, renderer);
      return shader.uniforms.coatBreaks.value as number;
    });
    expect(shaders[1]).toBeGreaterThan(shaders[0]);
  });

  it("go together with swaying, each program under a name of its own", () => {
    const both = coated(swaying(new THREE.MeshBasicMaterial(), uniforms, 10, 1), uniforms);
    const shader = {
      uniforms: {},
      vertexShader: "#include <begin_vertex>",
      fragmentShader: "#include <color_fragment>",
    } as unknown as Shader;
    both.onBeforeCompile(shader, renderer);
    expect(shader.vertexShader).toContain("windStrength");
    expect(shader.vertexShader).toContain("vCoat = coat;");
    const keys = [
      both,
      swaying(new THREE.MeshBasicMaterial(), uniforms, 10, 1),
      coated(new THREE.MeshBasicMaterial(), uniforms),
    ];
    expect(new Set(keys.map((material) => material.customProgramCacheKey())).size).toBe(3);
  });

  it("share all but their masks with the geometry they lie on", () => {
    const box = new THREE.BoxGeometry();
    const own = withCoat(box, new THREE.InstancedBufferAttribute(new Uint8Array(8), 4, true));
    expect(own.attributes.position).toBe(box.attributes.position);
    expect(own.index).toBe(box.index);
    expect(own.groups).toBe(box.groups);
    disposeCoat(own);
    expect(Object.keys(box.attributes)).toEqual(["position", "normal", "uv"]);
    expect(box.index).not.toBeNull();
  });

  it("are none while nothing has strength", () => {
    expect(anyCoat([coat(0, [1, 1, 1])])).toBe(false);
    expect(anyCoat([coat(0, [1, 1, 1]), coat(0.1, [1, 1, 1])])).toBe(true);
  });
});
