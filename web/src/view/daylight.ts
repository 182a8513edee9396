import * as THREE from "three";
import type { DaylightMeta } from "../api/daylight";
import type { Pack } from "../api/pack";

export const brightest = (colour: number[]) => Math.max(...colour);

/** A picture of a sky as a texture: it goes once around, and ends above and below. */
export function skyTexture(
  data: Float32Array | Uint16Array,
  width: number,
  height: number,
  type: THREE.TextureDataType,
): THREE.DataTexture {
  const texture = new THREE.DataTexture(data, width, height, THREE.RGBAFormat, type);
  texture.wrapS = THREE.RepeatWrapping;
  texture.minFilter = texture.magFilter = THREE.LinearFilter;
  texture.needsUpdate = true;
  return texture;
}

function textureOf(data: Float32Array, width: number, height: number): THREE.DataTexture {
  const texture = skyTexture(data, width, height, THREE.FloatType);
  texture.mapping = THREE.EquirectangularReflectionMapping;
  return texture;
}

/**
 * A sky as the renderer reads it: rows from below upwards, and from a quarter turn before north. The backdrop is the same to the
 * eye, for which the haze goes on below the horizon; only what is lit by it sees ground there.
 */
export function panoramas({ arrays, meta }: Pack<DaylightMeta>): {
  around: THREE.DataTexture;
  backdrop: THREE.DataTexture;
} {
  const { data, shape } = arrays.around;
  const [height, width] = shape;
  const [around, backdrop] = [new Float32Array(data.length), new Float32Array(data.length)];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const from = (y * width + ((x - width / 4 + width) % width)) * 4;
      const to = ((height - 1 - y) * width + x) * 4;
      around.set(data.subarray(from, from + 4), to);
      if (y < height / 2) backdrop.set(data.subarray(from, from + 4), to);
      else backdrop.set([...meta.horizon, 1], to);
    }
  return { around: textureOf(around, width, height), backdrop: textureOf(backdrop, width, height) };
}
