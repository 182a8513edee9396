import * as THREE from "three";
import { describe, expect, it } from "vitest";
import { lightThrough, litAsLeaves } from "./leaves";

describe("light on leaves", () => {
  it("is met from behind wherever the renderer lights something directly", () => {
    const chunk = THREE.ShaderChunk.lights_fragment_begin;
    const calls = chunk.match(/RE_Direct\(/g)!.length;
    expect(calls).toBeGreaterThan(2);
    expect(lightThrough(chunk).match(/leafLight\(/g)).toHaveLength(calls);
  });

  it("is declared once, and the same from both sides", () => {
    const material = new THREE.MeshLambertMaterial();
    litAsLeaves(material);
    const shader = { fragmentShader: THREE.ShaderLib.lambert.fragmentShader } as never as { fragmentShader: string };
    material.onBeforeCompile(shader as never, null as never);
    expect(shader.fragmentShader.match(/vec3 leafLight\(/g)).toHaveLength(1);
    expect(shader.fragmentShader).not.toContain("gl_FrontFacing ? 1.0 : - 1.0");
    expect(shader.fragmentShader).not.toContain("#include <lights_fragment_begin>");
  });
});
