import { type Layout, tableSize } from "./layout";
import type { Held } from "./rooms";

/**
 * For each of a layout's finest patches the finest one that is there and covers it: its layer in two bytes, and its level and one
 * more; 0 for none. Row by row, four bytes each.
 */
export function tableOf(layout: Layout, held: Held[]): { data: Uint8Array; rows: number; columns: number } {
  const { rows, columns } = tableSize(layout);
  const data = new Uint8Array(rows * columns * 4);
  for (const { patch, layer } of [...held].sort((one, other) => one.patch.level - other.patch.level)) {
    const side = 2 ** (layout.finest - patch.level);
    const bottom = Math.min(rows, (patch.row + 1) * side);
    const right = Math.min(columns, (patch.column + 1) * side);
    for (let row = patch.row * side; row < bottom; row++)
      for (let column = patch.column * side; column < right; column++)
        data.set([layer & 255, layer >> 8, patch.level + 1, 255], (row * columns + column) * 4);
  }
  return { data, rows, columns };
}
