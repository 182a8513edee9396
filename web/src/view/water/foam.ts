import * as THREE from "three";
import type { Pack } from "../../api/pack";

export interface FoamMeta {
  /** x and z of the corner of its map, and the side of a square, metres. */
  low: [number, number];
  cell: number;
  /** Its reflectance. */
  colour: [number, number, number];
}

/** Foam on a level of water, as its shader has it. */
export interface Foam {
  /** How much of the water is hidden, by place. */
  foam: { value: THREE.Texture | null };
  foamLow: { value: THREE.Vector2 };
  foamSize: { value: THREE.Vector2 };
  foamColour: { value: THREE.Vector3 };
  /** How much of it there is; none until its map is there. */
  foams: { value: number };
}

export function noFoam(): Foam {
  return {
    foam: { value: null },
    foamLow: { value: new THREE.Vector2() },
    foamSize: { value: new THREE.Vector2(1, 1) },
    foamColour: { value: new THREE.Vector3() },
    foams: { value: 0 },
  };
}

/**
 * Lay foam on a water.
 *
 * @param share How much of it, from 0 to 1.
 * @returns What takes it off again.
 */
export function layFoam(on: Foam, { arrays, meta: { low, cell, colour } }: Pack<FoamMeta>, share: number): () => void {
  const {
    data,
    shape: [rows, columns],
  } = arrays.cover;
  if (!rows || !columns || share <= 0) return () => undefined;
  const texture = new THREE.DataTexture(data as Uint8Array<ArrayBuffer>, columns, rows, THREE.RedFormat);
  texture.unpackAlignment = 1;
  texture.magFilter = THREE.LinearFilter;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.anisotropy = 8;
  texture.needsUpdate = true;
  on.foam.value = texture;
  on.foamLow.value.fromArray(low);
  on.foamSize.value.set(columns * cell, rows * cell);
  on.foamColour.value.fromArray(colour);
  on.foams.value = share;
  return () => {
    on.foams.value = 0;
    on.foam.value = null;
    texture.dispose();
  };
}
