import { describe, expect, it } from "vitest";
import { detailFor } from "./chunks";
import { type Drawn, type Laden, planned } from "./budget";

const chunk = (away: number, more: Partial<Laden> = {}): Laden => ({
  count: 6,
  triangles: [6000, 1200, 200, 4],
  away,
  extent: 1,
  whole: false,
  bare: false,
  ...more,
});
const cost = (entries: Laden[], plan: Drawn[]) =>
  entries.reduce((sum, { triangles }, row) => sum + triangles[plan[row].detail] * plan[row].count, 0);

describe("the plan of a frame", () => {
  const meadow = Array.from({ length: 200 }, (_, row) => chunk(1 + row * 0.6));

  it("draws everything as fine as its distance asks where that is not too much", () => {
    const plan = planned(meadow, Infinity, detailFor);
    expect(plan.every(({ count }) => count === 6)).toBe(true);
    expect(plan[0].detail).toBe(0);
    expect(plan.at(-1)!.detail).toBeGreaterThan(0);
  });

  it.each([2_000_000, 400_000, 55_000, 3_000, 100, 0])("keeps to %i triangles, trees among them", (budget) => {
    const trees = Array.from({ length: 12 }, (_, row) => chunk(4 + row * 9, { whole: true, count: 20, extent: 9 }));
    const all = [...meadow, ...trees];
    for (const nearer of [1, 3, 0]) {
      const plan = planned(all, budget, detailFor, nearer);
      expect(cost(all, plan)).toBeLessThanOrEqual(budget);
      plan.forEach(({ count }, row) => expect(count).toBeLessThanOrEqual(all[row].count));
    }
  });

  it("thins what is far, and spares what is near and what is large", () => {
    const all = [...meadow, chunk(60, { whole: true, count: 3 })];
    const plan = planned(all, 200_000, detailFor);
    expect(plan[1].count).toBe(6);
    expect(plan[199].count).toBe(1);
    expect(plan[200].count).toBe(3);
  });

  it("uses what it has: no less than half of a budget that is too small for all", () => {
    for (const budget of [2_000_000, 400_000, 55_000, 9_000])
      expect(cost(meadow, planned(meadow, budget, detailFor))).toBeGreaterThan(budget / 2);
  });

  it("leaves out the farthest first where nothing else helps", () => {
    const plan = planned(meadow, 400, detailFor);
    const seen = plan.map(({ count }) => count > 0);
    expect(seen.indexOf(false)).toBeGreaterThan(0);
    expect(seen.lastIndexOf(true)).toBeLessThan(seen.indexOf(false));
  });
});
