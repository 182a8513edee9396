import type * as THREE from "three";

export type Shader = Parameters<THREE.Material["onBeforeCompile"]>[0];

/** Put a line of shader code before others, once for the whole shader. */
export function declare(shader: Shader, code: string) {
  shader.fragmentShader = shader.fragmentShader.replace("#include <common>", `#include <common>\n${code}`);
}
