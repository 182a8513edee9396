import { describe, expect, it } from "vitest";
import { afterFrame, beginning, LIGHT, type Quality, TIERS, unsettled } from "./quality";

/** Frames of a machine that draws so many triangles a millisecond, until it has settled or some more. */
function run(pace: number, quality = beginning(false), most = 400): { quality: Quality; tiers: number[] } {
  const tiers: number[] = [];
  for (let frame = 0; frame < most; frame++) {
    quality = afterFrame(quality, 3 + TIERS[quality.tier].budget / pace);
    tiers.push(quality.tier);
  }
  return { quality, tiers };
}

describe("quality", () => {
  it("is full on a machine that bears it, within a few frames", () => {
    const { tiers } = run(2_000_000, beginning(false), 12);
    expect(tiers.at(-1)).toBe(0);
  });

  it("is light where the processor draws, whatever a frame takes", () => {
    const slow = beginning(true);
    expect(slow.tier).toBe(LIGHT);
    expect(run(1, slow, 20).quality).toBe(slow);
    expect(unsettled(slow)).toBe(false);
  });

  it("comes down where it is too much, and is tried again less and less often", () => {
    // The middle tier has time to spare, the full one takes too long.
    const { tiers } = run(300_000);
    const tried = tiers.flatMap((tier, frame) => (tier === 0 && tiers[frame - 1] !== 0 ? [frame] : []));
    expect(tried.length).toBeGreaterThan(1);
    const apart = tried.slice(1).map((frame, row) => frame - tried[row]);
    expect([...apart].sort((a, b) => a - b)).toEqual(apart);
    expect(tiers.filter((tier) => tier === 0).length).toBeLessThan(tiers.length / 5);
  });

  it("is not changed by one slow frame", () => {
    const { quality } = run(2_000_000, beginning(false), 20);
    const after = [1, 900, 1, 1].reduce(afterFrame, quality);
    expect(after.tier).toBe(quality.tier);
  });

  it("follows a machine that grows busy, and one that is free again", () => {
    const quick = run(2_000_000, beginning(false), 20).quality;
    const busy = run(10_000, quick, 20).quality;
    expect(busy.tier).toBe(LIGHT - 1 + 1);
    expect(run(2_000_000, busy, 200).quality.tier).toBe(0);
  });

  it("asks for frames until it knows, and then no more", () => {
    let quality = beginning(false);
    let frames = 0;
    while (unsettled(quality) && frames < 100) {
      quality = afterFrame(quality, 4);
      frames += 1;
    }
    expect(quality.tier).toBe(0);
    expect(frames).toBeLessThan(20);
  });
});
