/** How much of what grows a machine draws: triangles of placed items, and how long a frame of it may take or leaves to spare, ms. */
export const TIERS = [
  { name: "full", budget: 30_000_000, atMost: 45, spare: 0 },
  { name: "middle", budget: 1_500_000, atMost: 110, spare: 14 },
  { name: "light", budget: 55_000, atMost: Infinity, spare: 25 },
] as const;
export const LIGHT = TIERS.length - 1;

/** Frames that are looked at before anything is changed: the middle one of them counts. */
const LOOKED_AT = 5;
/** How many more a tier that proved too much asks for before it is tried again; doubled each time, up to a most. */
const MOST_LOOKS = 160;

/** What a machine has shown that it bears. */
export interface Quality {
  tier: number;
  /** Milliseconds that the last frames at this tier took. */
  frames: readonly number[];
  /** Frames with time to spare that the next finer tier asks for. */
  asks: number;
  /** Where frames are drawn by the processor there is nothing to find out. */
  fixed: boolean;
}

/** Where a machine begins. */
export const beginning = (byProcessor: boolean): Quality => ({
  tier: byProcessor ? LIGHT : 1,
  frames: [],
  asks: LOOKED_AT,
  fixed: byProcessor,
});

const middle = (some: readonly number[]) => [...some].sort((a, b) => a - b)[some.length >> 1];

/**
 * What is known after one more frame that showed the whole site.
 *
 * A tier that takes too long is left for a coarser one; a finer one is tried while frames leave time to spare, later each time it
 * proved too much, so that a machine in between does not go to and fro.
 */
export function afterFrame(quality: Quality, milliseconds: number): Quality {
  const { tier, asks, fixed } = quality;
  if (fixed) return quality;
  const frames = [...quality.frames, milliseconds].slice(-Math.max(LOOKED_AT, asks));
  const last = frames.slice(-LOOKED_AT);
  if (last.length === LOOKED_AT && middle(last) > TIERS[tier].atMost)
    return { tier: tier + 1, frames: [], asks: Math.min(MOST_LOOKS, asks * 2), fixed };
  if (tier > 0 && frames.length >= asks && middle(frames) < TIERS[tier].spare)
    return { tier: tier - 1, frames: [], asks, fixed };
  return { tier, frames, asks, fixed };
}

/** Whether more frames are wanted to find out how this machine does, though nothing moves. */
export const unsettled = ({ tier, frames, fixed, asks }: Quality): boolean =>
  !fixed && (frames.length < LOOKED_AT || (tier > 0 && frames.length < asks && middle(frames) < TIERS[tier].spare));
