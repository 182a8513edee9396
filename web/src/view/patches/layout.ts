import type { SurfaceEntry } from "../../api/client";

/** Texels of a patch's side, and of the border about it, as the core composes them (core/cenote/derive/surfaces.py). */
export const PATCH = 128;
export const BORDER = 4;
export const SIDE = PATCH + 2 * BORDER;

export type Layout = SurfaceEntry["patches"];

/** A patch of a surface, by its row and column among those of its level. */
export interface Patch {
  surface: string;
  level: number;
  row: number;
  column: number;
}

export const nameOf = ({ surface, level, row, column }: Patch): string => `${surface} ${level} ${row} ${column}`;
