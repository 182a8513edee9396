import * as THREE from "three";
import { declare, type Shader } from "../declare";
import { BORDER, PATCH, SIDE } from "./layout";
import { WIDE } from "./table";

/** What tells a surface's material where its patches lie. */
export interface PatchUniforms {
  /** Which of them are there; see `table.ts`. */
  patchTable: { value: THREE.DataTexture };
  /** Cells of its layout to the right and down, cells along a side of the patches of the table's root, and its columns; 0 for none. */
  patchLayout: { value: THREE.Vector4 };
  /** Whether they are to be seen at the moment. */
  patchShown: { value: number };
}

const NONE = new THREE.DataTexture(new Uint8Array(4), 1, 1);
NONE.needsUpdate = true;

/** A surface without any patches yet. */
export const noPatches = (): PatchUniforms => ({
  patchTable: { value: NONE },
  patchLayout: { value: new THREE.Vector4(1, 1, 1, 0) },
  patchShown: { value: 1 },
});

// How many texels one pixel is wide decides: up to four of them the smaller copies do, beyond that the map of the whole.
const CODE = `
uniform sampler2D patchTable;
uniform vec4 patchLayout;
uniform float patchShown;
uniform float patchAnisotropy;
uniform sampler2DArray patchBase;
uniform sampler2DArray patchOrm;
uniform sampler2DArray patchNormal;
vec3 patchAt;
vec4 patchSteps;
float patchShare;
void findPatch(vec2 uv) {
  patchShare = 0.0;
  vec2 cell = uv * patchLayout.xy;
  vec2 across = dFdx(cell), down = dFdy(cell);
  if (patchLayout.w * patchShown < 0.5) return;
  float side = patchLayout.z;
  int columns = int(patchLayout.w);
  int place = int(cell.y / side) * columns + min(int(cell.x / side), columns - 1);
  vec4 entry = floor(texelFetch(patchTable, ivec2(place % ${WIDE}, place / ${WIDE}), 0) * 255.0 + 0.5);
  for (int deeper = 0; deeper < 4 && entry.a == 128.0; deeper++) {
    side /= 16.0;
    ivec2 at = ivec2(cell / side) % 16;
    entry = floor(texelFetch(patchTable, ivec2(at.y * 16 + at.x, int(entry.r + 256.0 * entry.g)), 0) * 255.0 + 0.5);
  }
  if (entry.b < 0.5) return;
  float scale = exp2(entry.b - 1.0);
  vec2 texel = cell * scale;
  across *= scale;
  down *= scale;
  float longest = max(max(length(across), length(down)), 1e-6);
  float wide = max(abs(across.x * down.y - across.y * down.x) / longest, longest / patchAnisotropy);
  patchShare = clamp(3.0 - log2(wide), 0.0, 1.0);
  patchAt = vec3((texel - floor(texel / ${PATCH}.0) * ${PATCH}.0 + ${BORDER}.0) / ${SIDE}.0, entry.r + 256.0 * entry.g);
  patchSteps = vec4(across, down) / ${SIDE}.0;
}
vec4 patched(sampler2DArray maps, vec4 whole) {
  if (patchShare <= 0.0) return whole;
  return mix(whole, textureGrad(maps, patchAt, patchSteps.xy, patchSteps.zw), patchShare);
}`;

/** Which array the patches of each of a material's maps lie in. */
export const PATCH_OF = {
  map: "patchBase",
  roughnessMap: "patchOrm",
  metalnessMap: "patchOrm",
  aoMap: "patchOrm",
  normalMap: "patchNormal",
} as const;

/** Let a material read patches where there are any. What it reads is written by whoever writes its chunks. */
export function findPatches(shader: Shader, shared: Record<string, THREE.IUniform>, own: PatchUniforms) {
  Object.assign(shader.uniforms, shared, own);
  declare(shader, CODE);
  shader.fragmentShader = shader.fragmentShader.replace(
    "#include <map_fragment>",
    "#ifdef USE_MAP\nfindPatch(vMapUv);\n#endif\n#include <map_fragment>",
  );
}
