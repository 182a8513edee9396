import * as THREE from "three";
import { describe, expect, it, vi } from "vitest";
import { flipped } from "./parting";
import { noPatches, PATCH_OF } from "./patches/sampling";
import { uniformsOf } from "./uniforms";
import { readingChunk, shaded } from "./shading";

const uniforms = uniformsOf(new THREE.Scene());

vi.mock("../site/machine", () => ({ drawnByProcessor: true }));

const texture = new THREE.Texture();
const bare = { base: texture, orm: texture, normal: texture };

function compiled(shading: Parameters<typeof shaded>[1]) {
  const shader = {
    uniforms: {} as Record<string, unknown>,
    vertexShader: THREE.ShaderLib.standard.vertexShader,
    fragmentShader: THREE.ShaderLib.standard.fragmentShader,
  };
  shaded(uniforms, shading).compile(shader as never);
  return shader;
}

describe("what is done to a surface's shader", () => {
  it("is nothing where nothing is asked", () => {
    expect(compiled({ glows: false, mirrors: false, bare: null, patches: null }).fragmentShader).toBe(
      THREE.ShaderLib.standard.fragmentShader,
    );
  });

  it("has a place in the renderer's own shader, each part once", () => {
    const { fragmentShader, uniforms } = compiled({ glows: true, mirrors: true, bare, patches: null });
    for (const one of ["uniform float partedAt;", "uniform vec3 skyZenith;", "uniform float glowing;"])
      expect(fragmentShader.split(one)).toHaveLength(2);
    expect(fragmentShader).toContain("totalEmissiveRadiance += diffuseColor.rgb * vGlow * glowing;");
    expect(fragmentShader).toContain("reflectedLight.indirectSpecular += share");
    expect(Object.keys(uniforms)).toEqual(expect.arrayContaining(["partedAt", "bareMap", "bareOrm", "bareNormal"]));
  });

  it("reads every map from both sides of the parting", () => {
    const { fragmentShader } = compiled({ glows: false, mirrors: false, bare, patches: null });
    for (const map of ["map", "roughnessMap", "metalnessMap", "normalMap"])
      expect(fragmentShader).toMatch(new RegExp(`partedAt \\? texture2D\\(bare\\w+, \\w+\\) : texture2D\\( ${map},`));
    expect(readingChunk("texture2D( aoMap, vUv )", false, true)).toBe("texture2D( aoMap, vUv )");
  });

  it("reads patches where there are any, once it is found where they lie", () => {
    const { fragmentShader, uniforms } = compiled({ glows: false, mirrors: false, bare, patches: noPatches() });
    expect(fragmentShader.indexOf("findPatch(vMapUv);")).toBeLessThan(fragmentShader.indexOf("patched(patchBase,"));
    for (const [map, array] of Object.entries(PATCH_OF))
      expect(fragmentShader).toContain(`patched(${array}, texture2D( ${map},`);
    expect(fragmentShader).toContain("partedAt ? texture2D(bareMap, vMapUv) : patched(patchBase,");
    expect(Object.keys(uniforms)).toEqual(expect.arrayContaining(["patchTable", "patchLayout", "patchBase"]));
  });

  it("has a name of its own for each way", () => {
    const names = [false, true].flatMap((glows) =>
      [false, true].flatMap((mirrors) =>
        [null, bare].map((one) => shaded(uniforms, { glows, mirrors, bare: one, patches: null }).name),
      ),
    );
    expect(new Set(names).size).toBe(8);
  });
});

describe("flipping before and after", () => {
  it("shows all of before, and goes back to what there was", () => {
    expect(flipped(null, null)).toEqual({ parted: 1, partedBefore: null });
    expect(flipped(1, null)).toEqual({ parted: null, partedBefore: null });
    expect(flipped(0.3, null)).toEqual({ parted: 1, partedBefore: 0.3 });
    expect(flipped(1, 0.3)).toEqual({ parted: 0.3, partedBefore: null });
  });
});
