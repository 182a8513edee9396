import * as THREE from "three";
import type { Pack } from "../api/pack";

/**
 * Triangles of a pack whose material repeats over them as seen from above: `position`, `normal`, `index` and, as factors on the
 * material, `colour`.
 *
 * @param size side of the material's tile, metres.
 */
export function laidGeometry(pack: Pack, size: number): THREE.BufferGeometry {
  const { position, normal, index, colour } = pack.arrays;
  const made = new THREE.BufferGeometry();
  made.setAttribute("position", new THREE.BufferAttribute(position.data, 3));
  made.setAttribute("normal", new THREE.BufferAttribute(normal.data, 3));
  if (colour) made.setAttribute("color", new THREE.BufferAttribute(colour.data, 3));
  const places = position.data as Float32Array;
  const uv = new Float32Array((places.length / 3) * 2);
  for (let i = 0; i < uv.length / 2; i++) {
    uv[2 * i] = places[3 * i] / size;
    uv[2 * i + 1] = -places[3 * i + 2] / size;
  }
  made.setAttribute("uv", new THREE.BufferAttribute(uv, 2));
  made.setIndex(new THREE.BufferAttribute(index.data, 1));
  made.computeBoundingSphere();
  return made;
}
