import type { Pack } from "../api/pack";

export interface PlacementsMeta {
  items: string[];
  count: number;
  triangles: number;
  densest: number | null;
}

/** A table of placed items. */
export interface Placements {
  item: Int16Array;
  variant: Int16Array;
  position: Float32Array;
  rotation: Float32Array;
  size: Float32Array;
  tint: Float32Array;
  rank: Uint16Array;
  /** Two halves of each item's id, the lower one first. */
  id: Uint32Array;
  /** How each came about: 0 by rule, 1 in a row, 2 by hand. */
  origin: Uint8Array;
  meta: PlacementsMeta;
}

/** Placements out of a pack. */
export function placementsOf(pack: Pack, prefix: string, meta: PlacementsMeta): Placements {
  const column = (name: string) => pack.arrays[`${prefix}${name}`].data;
  return {
    item: column("item") as Int16Array,
    variant: column("variant") as Int16Array,
    position: column("position") as Float32Array,
    rotation: column("rotation") as Float32Array,
    size: column("size") as Float32Array,
    tint: column("tint") as Float32Array,
    rank: column("rank") as Uint16Array,
    id: column("id") as Uint32Array,
    origin: column("origin") as Uint8Array,
    meta,
  };
}
