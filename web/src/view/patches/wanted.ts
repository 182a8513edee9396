import { type Layout, nameOf, PATCH, type Patch } from "./layout";

/** Numbers for each place that is looked at: which surface, from 1; where in its layout, right and down in [0, 1]; its wanted level. */
export const NUMBERS = 4;

/** A surface as {@link wantedIn} goes by it. */
export interface Seen {
  id: string;
  layout: Layout;
}

/** A texel may be so much larger than a pixel, as a logarithm to base 2, before a finer level is asked for. */
const LARGER = 0.25;

/**
 * The patches that are seen, those that fill most of the picture first.
 *
 * @param places Four numbers each, as {@link NUMBERS} says.
 * @param most How many patches there is room for; where more are seen, all are wanted coarser.
 * @param cap The finest texel that is wanted, metres; cells of surfaces are told beside.
 */
export function wantedIn(
  places: Float32Array,
  surfaces: Seen[],
  most: number,
  finestOf: (seen: Seen) => number,
): Patch[] {
  for (let coarser = 0; ; coarser++) {
    const found = new Map<string, { patch: Patch; count: number }>();
    for (let at = 0; at < places.length; at += NUMBERS) {
      const seen = surfaces[Math.round(places[at]) - 1];
      if (!seen) continue;
      const { id, layout } = seen;
      const level = Math.min(finestOf(seen), Math.ceil(places[at + 3] - LARGER)) - coarser;
      if (!(level > layout.level)) continue;
      const scale = 2 ** level / PATCH;
      const column = Math.floor(Math.min(places[at + 1], 0.999999) * layout.columns * scale);
      const row = Math.floor(Math.min(places[at + 2], 0.999999) * layout.rows * scale);
      const patch = { surface: id, level, row, column };
      const name = nameOf(patch);
      const before = found.get(name);
      if (before) before.count++;
      else found.set(name, { patch, count: 1 });
    }
    if (found.size <= most)
      return [...found.values()].sort((one, other) => other.count - one.count).map(({ patch }) => patch);
  }
}
