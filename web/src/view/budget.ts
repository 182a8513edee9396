/** What decides how a chunk of copies is drawn. */
export interface Laden {
  /** Copies in it, and the triangles of one at each level of detail. */
  count: number;
  triangles: number[];
  /** How far away its nearest copies are, metres, and the greatest extent of one. */
  away: number;
  extent: number;
  /** Few and large: not thinned with distance. */
  whole: boolean;
  /** Its branches are bare. */
  bare: boolean;
}

/** How a chunk is drawn: at which level of detail, and so many of its copies. */
export interface Drawn {
  detail: number;
  count: number;
}

/** The level of detail that something has at a distance; see {@link Laden} for extent and bareness. */
export type DetailFor = (extent: number, away: number, levels: number, bare: boolean) => number;

/** How much nearer than it is everything is taken to be at least, before near things are thinned. */
const LEAST_NEAR = 0.02;
/** What is nearer than this many metres is not thinned as long as simpler levels of detail are left. */
const SPARED = 8;
/** Between these many metres lies the reach within which all copies are drawn. */
const LEAST = 0.2;
const FAR = 1e5;
const STEPS = 20;

/**
 * How to draw no more triangles than a budget: far copies are thinned first, then all are drawn simpler, then near and large ones
 * are thinned as well, and at last the farthest chunks are left out.
 *
 * @param nearer how much nearer everything is taken to be at best: 1 as a rule, more for a frame that may take its time, 0 for
 *   one that must be quick: there all are drawn as from far away, and chunks that thinning leaves nothing of are left out.
 */
export function planned(entries: Laden[], budget: number, detailFor: DetailFor, nearer = 1): Drawn[] {
  const atLeast = nearer ? Math.ceil : Math.floor;
  const counts = (reach: number, sparing: boolean) => (entry: Laden) =>
    entry.whole && sparing ? entry.count : atLeast(entry.count * Math.min(1, (reach / entry.away) ** 1.5));
  const cost = (details: number[], count: (entry: Laden) => number) =>
    entries.reduce((sum, entry, row) => sum + count(entry) * entry.triangles[details[row]], 0);
  const drawn = (details: number[], count: (entry: Laden) => number) =>
    entries.map((entry, row) => ({ detail: details[row], count: count(entry) }));

  const detailsAt = (by: number) =>
    entries.map(({ extent, away, triangles, bare }) =>
      by ? detailFor(extent, away / by, triangles.length, bare) : triangles.length - 1,
    );
  const within = (by: number, reach: number) => cost(detailsAt(by), counts(reach, true)) <= budget;

  if (within(nearer, Infinity)) return drawn(detailsAt(nearer), counts(Infinity, true));
  const by = within(nearer, SPARED) ? nearer : farthest(LEAST_NEAR * nearer, nearer, (one) => within(one, SPARED));
  const details = detailsAt(by);
  if (within(by, SPARED))
    return drawn(
      details,
      counts(
        farthest(SPARED, FAR, (reach) => cost(details, counts(reach, true)) <= budget),
        true,
      ),
    );
  const simplest = detailsAt(0);
  const reach = farthest(LEAST, FAR, (one) => cost(simplest, counts(one, false)) <= budget);
  const plan = drawn(simplest, counts(reach, false));
  let left = budget;
  const near = [...entries.keys()].sort((a, b) => entries[a].away - entries[b].away);
  for (const row of near) {
    const each = entries[row].triangles[plan[row].detail];
    plan[row].count = Math.min(plan[row].count, Math.floor(left / Math.max(1, each)));
    left -= plan[row].count * each;
  }
  return plan;
}

/** The greatest number between two, along a scale of powers, at which something holds that holds for small ones; else the least. */
function farthest(low: number, high: number, holds: (at: number) => boolean): number {
  for (let step = 0; step < STEPS; step++) {
    const middle = Math.sqrt(low * high);
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return low;
}
