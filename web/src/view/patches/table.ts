import { type Layout, PATCH } from "./layout";
import type { Held } from "./rooms";

/** How many levels a node parts a patch by, and its patches along a side. */
const STEP = 4;
const BRANCH = 2 ** STEP;
/** Entries in a row of a table: those of a node. */
export const WIDE = BRANCH ** 2;
/** A root has at most so many entries. */
const ROOT = 16_384;
/** The last byte of an entry that tells what is there, and of one that tells where a node is. */
const LEAF = 255;
const NODE = 128;

/** What tells which patches of a layout are there. */
export interface Table {
  /** Four bytes an entry, {@link WIDE} entries a row: the root's, row by row of patches; then one row for each node. */
  data: Uint8Array;
  /** Level and columns of the patches that the root's entries stand for. */
  level: number;
  columns: number;
}

/**
 * For each place of a layout the finest patch that is there and covers it, as a tree: layouts are parted into far more patches than
 * are ever there. An entry of the root, and of the nodes of 16 × 16 below it, is either a patch (its layer in two bytes, and its
 * level and one more; 0 for none) or the row of the node that tells more.
 */
export function tableOf(layout: Layout, held: Held[]): Table {
  let level = layout.finest;
  const across = (cells: number) => Math.ceil((cells * 2 ** level) / PATCH);
  while (across(layout.columns) * across(layout.rows) > ROOT && level >= STEP) level -= STEP;
  const columns = across(layout.columns);
  const rows = across(layout.rows);
  const rootRows = Math.ceil((columns * rows) / WIDE);
  const nodes: Uint8Array<ArrayBufferLike>[] = [];
  const root = new Uint8Array(rootRows * WIDE * 4);
  for (const { patch, layer } of [...held].sort((one, other) => one.patch.level - other.patch.level)) {
    const entry = [layer & 255, layer >> 8, patch.level + 1, LEAF];
    let at = level;
    let table: Uint8Array = root;
    let wide = columns;
    let high = rows;
    // Down to the node that has entries as fine as the patch.
    for (; at < patch.level; at += STEP) {
      const shift = patch.level - at;
      const within = at === level ? 0 : BRANCH - 1;
      const row = within ? (patch.row >> shift) & within : patch.row >> shift;
      const column = within ? (patch.column >> shift) & within : patch.column >> shift;
      const place = (row * wide + column) * 4;
      if (table[place + 3] !== NODE) {
        const node = new Uint8Array(WIDE * 4);
        for (let k = 0; k < WIDE; k++) node.set(table.subarray(place, place + 4), 4 * k);
        nodes.push(node);
        const number = rootRows + nodes.length - 1;
        table.set([number & 255, number >> 8, 0, NODE], place);
      }
      table = nodes[table[place] + 256 * table[place + 1] - rootRows];
      wide = high = BRANCH;
    }
    const side = 2 ** (at - patch.level);
    const own = at === level ? { row: patch.row * side, column: patch.column * side } : inNode(patch, side);
    for (let row = own.row; row < Math.min(high, own.row + side); row++)
      for (let column = own.column; column < Math.min(wide, own.column + side); column++)
        table.set(entry, (row * wide + column) * 4);
  }
  const data = new Uint8Array(root.length + nodes.length * WIDE * 4);
  data.set(root);
  nodes.forEach((node, row) => data.set(node, root.length + row * WIDE * 4));
  return { data, level, columns };
}

const inNode = ({ row, column }: { row: number; column: number }, side: number) => ({
  row: (row * side) & (BRANCH - 1),
  column: (column * side) & (BRANCH - 1),
});
