import { describe, expect, it } from "vitest";
import { trackOf } from "./track";

describe("the track of a slider", () => {
  it("is straight where steps are few or the usual value is in the middle", () => {
    for (const track of [trackOf(0, 1, 0.02, 0), trackOf(0, 100, 0.1, 50), trackOf(-5, 400, 0.1, 0)]) {
      expect(track.bowed).toBe(false);
    }
    expect(trackOf(0, 100, 5).value(0.5)).toBe(50);
  });

  it("gives small numbers room in a wide range", () => {
    const track = trackOf(0.1, 100, 0.1, 2);
    expect(track.bowed).toBe(true);
    expect(track.at(2)).toBeGreaterThan(0.25);
    expect(track.value(0)).toBe(0.1);
    expect(track.value(1)).toBe(100);
  });

  it("goes to and fro without loss, on whole steps", () => {
    for (const track of [trackOf(0, 20, 0.05, 0.2), trackOf(0, 360, 5, 360), trackOf(0, 50, 0.1, 0)])
      for (const value of [0, 0.2, 1.5, 5, 15].map((one) => track.value(track.at(one))))
        expect(track.value(track.at(value))).toBe(value);
    expect(trackOf(0, 20, 0.05, 0.2).value(0.31)).toBeCloseTo(0.6, 6);
  });
});
