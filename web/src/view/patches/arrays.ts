import * as THREE from "three";
import { SIDE } from "./layout";
import { halved } from "./smaller";

/** Smaller copies of each patch: as many as its border allows for. */
const LEVELS = 3;

/** The maps of all patches of a view, one patch a layer: what they take is fixed. */
export interface PatchArrays {
  base: THREE.DataArrayTexture;
  orm: THREE.DataArrayTexture;
  normal: THREE.DataArrayTexture;
}

/** Bytes that a patch takes: three maps with their smaller copies. */
export const PATCH_BYTES = 3 * 4 * SIDE * SIDE * (1 + 1 / 4 + 1 / 16);

function arrayOf(layers: number, anisotropy: number, colour: boolean): THREE.DataArrayTexture {
  const made = new THREE.DataArrayTexture(null, SIDE, SIDE, layers);
  made.format = THREE.RGBAFormat;
  made.type = THREE.UnsignedByteType;
  made.colorSpace = colour ? THREE.SRGBColorSpace : THREE.NoColorSpace;
  made.magFilter = THREE.LinearFilter;
  made.minFilter = THREE.LinearMipmapLinearFilter;
  made.anisotropy = anisotropy;
  made.generateMipmaps = false;
  // Room is made for them; each patch brings its own.
  made.mipmaps = Array.from({ length: LEVELS }, () => ({})) as typeof made.mipmaps;
  made.source.dataReady = false;
  made.needsUpdate = true;
  return made;
}

/** Room for so many patches. */
export const patchArrays = (layers: number, anisotropy: number): PatchArrays => ({
  base: arrayOf(layers, anisotropy, true),
  orm: arrayOf(layers, anisotropy, false),
  normal: arrayOf(layers, anisotropy, false),
});

/** Put a patch's map into a layer, with its smaller copies. */
export function putIn(gl: THREE.WebGLRenderer, array: THREE.DataArrayTexture, layer: number, map: Uint8Array) {
  const at = new THREE.Vector3(0, 0, layer);
  for (let level = 0, side = SIDE, data = map; level < LEVELS; level++, side >>= 1) {
    const one = new THREE.DataTexture(data, side, side, THREE.RGBAFormat, THREE.UnsignedByteType);
    gl.copyTextureToTexture(one, array, null, at, 0, level);
    if (level + 1 < LEVELS) data = halved(data, side);
  }
}
