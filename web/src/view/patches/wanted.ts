import { type Layout, nameOf, PATCH, type Patch } from "./layout";

/** Numbers for each place that is looked at: which surface, from 1; where in its layout, right and down in [0, 1]; its wanted level. */
export const NUMBERS = 4;

/** A surface as {@link wantedIn} goes by it. */
export interface Seen {
  id: string;
  layout: Layout;
}

/** Places that a patch has to fill, of the 1,024 that it can: of what fills less, the next coarser level does. */
const FEW = 64;

/**
 * The patches that are seen, those that fill most of the picture first.
 *
 * @param places Four numbers each, as {@link NUMBERS} says.
 * @param most How many patches there is room for; where more are seen, all are wanted coarser.
 * @param finestOf The finest level that is wanted of a surface.
 */
export function wantedIn(
  places: Float32Array,
  surfaces: Seen[],
  most: number,
  finestOf: (seen: Seen) => number,
): Patch[] {
  for (let coarser = 0; ; coarser++) {
    const found = patchesOf(places, surfaces, (seen, level) => Math.min(finestOf(seen), Math.round(level)) - coarser);
    if (found.length <= most) return found.sort((one, other) => other.count - one.count).map(({ patch }) => patch);
  }
}

interface Counted {
  patch: Patch;
  /** How many places it fills. */
  count: number;
}

/** The patches that places lie in, and how many lie in each; few together go to the patch of the next coarser level. */
function patchesOf(places: Float32Array, surfaces: Seen[], levelOf: (seen: Seen, level: number) => number): Counted[] {
  const byLevel: Map<string, Counted>[] = [];
  const add = (patch: Patch, count: number) => {
    const there = (byLevel[patch.level] ??= new Map());
    const name = nameOf(patch);
    const before = there.get(name);
    if (before) before.count += count;
    else there.set(name, { patch, count });
  };
  for (let at = 0; at < places.length; at += NUMBERS) {
    const seen = surfaces[Math.round(places[at]) - 1];
    if (!seen) continue;
    const { id, layout } = seen;
    const level = levelOf(seen, places[at + 3]);
    if (!(level > layout.level)) continue;
    const scale = 2 ** level / PATCH;
    const column = Math.floor(Math.min(places[at + 1], 0.999999) * layout.columns * scale);
    const row = Math.floor(Math.min(places[at + 2], 0.999999) * layout.rows * scale);
    add({ surface: id, level, row, column }, 1);
  }
  const whole = new Map(surfaces.map(({ id, layout }) => [id, layout.level]));
  for (let level = byLevel.length - 1; level > 0; level--)
    for (const [name, { patch, count }] of byLevel[level] ?? []) {
      if (count >= FEW) continue;
      byLevel[level].delete(name);
      if (level - 1 > whole.get(patch.surface)!)
        add({ ...patch, level: level - 1, row: patch.row >> 1, column: patch.column >> 1 }, count);
    }
  return byLevel.flatMap((there) => [...(there ?? new Map<string, Counted>()).values()]);
}
