import { describe, expect, it } from "vitest";
import type { Layout } from "./layout";
import { Rooms } from "./rooms";
import { halved } from "./smaller";
import { tableOf } from "./table";
import { type Seen, wantedIn } from "./wanted";

const layout: Layout = { of: "key", columns: 256, rows: 128, level: 0, finest: 2 };
const seen: Seen[] = [{ id: "wall", layout }];
const finestOf = ({ layout }: Seen) => layout.finest;

/** So many places that lie at one point of the wall, and want one level. */
const places = (...some: [count: number, across: number, down: number, level: number][]) =>
  new Float32Array(some.flatMap(([count, ...at]) => Array.from({ length: count }, () => [1, ...at])).flat());

describe("the patches that are seen", () => {
  it("are of the level at which a texel is about a pixel, those that fill most of the picture first", () => {
    // On the right at level 2, on the left at 1; what the whole maps do for, and what is no surface.
    const found = places([100, 0.9, 0.5, 2], [100, 0.9, 0.51, 1.6], [99, 0.1, 0.1, 1.4], [500, 0.3, 0.3, 0.4]);
    const nothing = new Float32Array([0, 0, 0, 9]);
    expect(wantedIn(new Float32Array([...found, ...nothing]), seen, 10, finestOf)).toEqual([
      { surface: "wall", level: 2, row: 2, column: 7 },
      { surface: "wall", level: 1, row: 0, column: 0 },
    ]);
  });

  it("are coarser where there would be more than there is room for, and never finer than there are", () => {
    const found = places([70, 0.05, 0.1, 9], [70, 0.2, 0.1, 9], [70, 0.6, 0.1, 9]);
    const levels = (most: number) => wantedIn(found, seen, most, finestOf).map(({ level }) => level);
    expect(levels(3)).toEqual([2, 2, 2]);
    expect(levels(2)).toEqual([1, 1]);
    expect(levels(1)).toEqual([]);
  });

  it("are the next coarser ones where little of them is seen: several such share one", () => {
    const slivers = places([20, 0.05, 0.1, 2], [50, 0.2, 0.1, 2], [20, 0.9, 0.9, 2]);
    expect(wantedIn(slivers, seen, 10, finestOf)).toEqual([{ surface: "wall", level: 1, row: 0, column: 0 }]);
  });
});

describe("room for patches", () => {
  const patch = (column: number, level = 1) => ({ surface: "wall", level, row: 0, column });

  it("is taken from what was seen least recently", () => {
    const rooms = new Rooms(2);
    const first = rooms.take(patch(0), "a").layer;
    rooms.take(patch(1), "a");
    expect(rooms.seen(patch(0), "a")).toBe(true);
    const { layer, gone } = rooms.take(patch(2), "a");
    expect([gone?.patch.column, rooms.size, layer === first]).toEqual([1, 2, false]);
    expect(rooms.seen(patch(1), "a")).toBe(false);
  });

  it("is given back by what is of another composition", () => {
    const rooms = new Rooms(2);
    rooms.take(patch(0), "a");
    expect(rooms.seen(patch(0), "b")).toBe(false);
    expect(rooms.take(patch(0), "b").gone?.of).toBe("a");
    rooms.take(patch(1), "a");
    expect([rooms.keepOnly("wall", "b"), rooms.keepOnly("wall", "b"), rooms.size]).toEqual([true, false, 1]);
    expect(rooms.take(patch(3), "b").gone).toBeNull();
  });

  it("is told by the finest patch over each place", () => {
    const rooms = new Rooms(600);
    for (let k = 0; k < 299; k++) rooms.take({ ...patch(k), surface: "other" }, "a");
    const fine = rooms.take({ ...patch(1, 2), row: 1 }, "a").layer;
    const coarse = rooms.take(patch(0), "a").layer;
    const { data, rows, columns } = tableOf(layout, rooms.of("wall"));
    expect([rows, columns]).toEqual([4, 8]);
    const at = (row: number, column: number) => [...data.subarray((row * 8 + column) * 4, (row * 8 + column) * 4 + 3)];
    expect(at(0, 0)).toEqual([coarse & 255, coarse >> 8, 2]);
    expect(at(1, 1)).toEqual([fine & 255, fine >> 8, 3]);
    expect(coarse).toBeGreaterThan(255);
    expect(at(2, 0)).toEqual([0, 0, 0]);
    expect(at(0, 2)).toEqual([0, 0, 0]);
  });
});

describe("smaller copies", () => {
  it("are the mean of four texels each", () => {
    const data = new Uint8Array(16).map((_, k) => (k >> 2) * 10 + (k & 3));
    expect([...halved(data, 2)]).toEqual([15, 16, 17, 18]);
  });
});
