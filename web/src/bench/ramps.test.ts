import { describe, expect, it } from "vitest";
import { curvePoints, nearestHandle } from "./ramps";

/** Heights of the drawn curve from 0 (nothing) to 1 (full), left to right. */
function heights(card: Parameters<typeof curvePoints>[0]): number[] {
  return curvePoints(card, 0, 1, 100, 102)
    .split(" ")
    .map((point) => 1 - (Number(point.split(",")[1]) - 1) / 100);
}

describe("the drawn ramp", () => {
  const card = { starts_at: 0.25, full_at: 0.75, soft: false, inverted: false };

  it("rises from where it starts to where it is full", () => {
    const drawn = heights(card);
    expect(drawn[0]).toBeCloseTo(0);
    expect(drawn[16]).toBeCloseTo(0);
    expect(drawn[32]).toBeCloseTo(0.5);
    expect(drawn[64]).toBeCloseTo(1);
  });

  it("eases in and out where it is soft, and falls where it is turned round", () => {
    const soft = heights({ ...card, soft: true });
    expect(soft[24]).toBeCloseTo(0.156, 2);
    expect(heights({ ...card, inverted: true })[64]).toBeCloseTo(0);
    expect(heights({ ...card, starts_at: 0.75, full_at: 0.25 })[0]).toBeCloseTo(1);
  });

  it("is a step where it has no width", () => {
    const step = heights({ ...card, full_at: 0.25 });
    expect(step[15]).toBeCloseTo(0);
    expect(step[16]).toBeCloseTo(1);
  });
});

describe("taking hold of a ramp", () => {
  it("takes the nearer end, and of two in one place the one that can give way", () => {
    expect(nearestHandle(0.3, 0.25, 0.75)).toBe("starts");
    expect(nearestHandle(0.6, 0.25, 0.75)).toBe("full");
    expect(nearestHandle(0.1, 0.5, 0.5)).toBe("starts");
    expect(nearestHandle(0.9, 0.5, 0.5)).toBe("full");
  });
});
