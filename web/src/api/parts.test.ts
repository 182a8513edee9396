import { describe, expect, it } from "vitest";
import type { Pack } from "./pack";
import { wholeTable } from "./parts";

const earlier: Pack = {
  arrays: {
    size: { data: Float32Array.of(1, 2, 3, 4, 5), shape: [5] },
    position: { data: Float32Array.of(0, 0, 1, 1, 2, 2, 3, 3, 4, 4), shape: [5, 2] },
    first: { data: Int32Array.of(0, 2, 2, 5), shape: [4] },
    mark: { data: new Uint32Array(6), shape: [3, 2] },
  },
  meta: { count: 5 },
};

describe("a table of which parts were sent", () => {
  it("is put together from the earlier one and what came", () => {
    const sent: Pack<{ count: number }> = {
      arrays: {
        size: { data: Float32Array.of(9), shape: [1] },
        position: { data: Float32Array.of(7, 8), shape: [1, 2] },
        first: { data: Int32Array.of(0, 3, 4, 6), shape: [4] },
        mark: { data: new Uint32Array(6), shape: [3, 2] },
        from: { data: Int32Array.of(2, -1, 0), shape: [3] },
      },
      meta: { count: 6 },
    };
    const whole = wholeTable(sent, earlier);
    expect([...whole.arrays.size.data]).toEqual([3, 4, 5, 9, 1, 2]);
    expect([...whole.arrays.position.data]).toEqual([2, 2, 3, 3, 4, 4, 7, 8, 0, 0, 1, 1]);
    expect(whole.arrays.position.shape).toEqual([6, 2]);
    expect(whole.arrays.size.data).toBeInstanceOf(Float32Array);
    expect(whole.meta.count).toBe(6);
    expect(whole.arrays.from).toBeUndefined();
  });

  it("is itself where all of it was sent", () => {
    expect(wholeTable(earlier, null)).toBe(earlier);
  });

  it("is refused where the earlier one is gone", () => {
    const sent: Pack = { arrays: { ...earlier.arrays, from: { data: Int32Array.of(0), shape: [1] } }, meta: {} };
    expect(() => wholeTable(sent, null)).toThrow("not there");
  });
});
