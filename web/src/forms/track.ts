/** How a slider's track stands for a range of numbers: from 0 to 1 along it. */
export interface Track {
  at: (value: number) => number;
  value: (at: number) => number;
  /** Whether small numbers have most of the track. */
  bowed: boolean;
}

/** More steps than this, with the usual value near the low end, want a track that gives small numbers room. */
const MANY = 250;
const NEAR_END = 0.15;

/** The track of a range. */
export function trackOf(low: number, high: number, step: number, usual?: number): Track {
  const range = high - low;
  const bowed = low >= 0 && range / step > MANY && usual !== undefined && usual <= low + NEAR_END * range;
  const power = bowed ? 3 : 1;
  const rounded = (value: number) => Number((low + Math.round((value - low) / step) * step).toFixed(6));
  return {
    bowed,
    at: (value) => Math.min(1, Math.max(0, (value - low) / range)) ** (1 / power),
    value: (at) => Math.min(high, Math.max(low, rounded(low + range * at ** power))),
  };
}
