import { describe, expect, it } from "vitest";
import { type Layout, PATCH, type Patch } from "./layout";
import { Rooms } from "./rooms";
import { halved } from "./smaller";
import { type Table, tableOf, WIDE } from "./table";
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
    const { data, level, columns } = tableOf(layout, rooms.of("wall"));
    expect([level, columns]).toEqual([2, 8]);
    const at = (row: number, column: number) => [...data.subarray((row * 8 + column) * 4, (row * 8 + column) * 4 + 3)];
    expect(at(0, 0)).toEqual([coarse & 255, coarse >> 8, 2]);
    expect(at(1, 1)).toEqual([fine & 255, fine >> 8, 3]);
    expect(coarse).toBeGreaterThan(255);
    expect(at(2, 0)).toEqual([0, 0, 0]);
    expect(at(0, 2)).toEqual([0, 0, 0]);
  });
});

describe("a table of a wide layout", () => {
  // A ground of two kilometres: 160 patches a side at level 5, 20,000 at level 12.
  const wide: Layout = { of: "key", columns: 640, rows: 640, level: 0, finest: 12 };

  /** What the shader finds at a place in cells: layer and level. */
  const found = ({ data, level, columns }: Table, right: number, down: number): number[] => {
    let side = PATCH / 2 ** level;
    let place = Math.floor(down / side) * columns + Math.floor(right / side);
    for (;;) {
      const [low, high, one, what] = data.subarray(place * 4, place * 4 + 4);
      if (what !== 128) return [low + 256 * high, one - 1];
      side /= 16;
      place = (low + 256 * high) * WIDE + (Math.floor(down / side) % 16) * 16 + (Math.floor(right / side) % 16);
    }
  };

  it("is small, and tells the finest patch over each place", () => {
    const rooms = new Rooms(900);
    const at = (level: number, right: number, down: number): Patch => {
      const scale = 2 ** level / PATCH;
      return { surface: "ground", level, row: Math.floor(down * scale), column: Math.floor(right * scale) };
    };
    const layers = [0, 3, 4, 7, 9, 12].map((level) => rooms.take(at(level, 333.3, 100.1), "a").layer);
    for (let k = 0; k < 400; k++) rooms.take(at(12, 10 + k * 0.9, 20), "a");
    const table = tableOf(wide, rooms.of("ground"));
    expect(table.data.length).toBeLessThan(2_000_000);
    expect(found(table, 333.3, 100.1)).toEqual([layers[5], 12]);
    // Beside the finest one the next coarser one is seen, and so on outwards.
    expect(found(table, 333.3 + 0.06, 100.1)).toEqual([layers[4], 9]);
    expect(found(table, 333.3, 100.1 + 0.6)).toEqual([layers[3], 7]);
    expect(found(table, 335, 100.1)).toEqual([layers[2], 4]);
    expect(found(table, 350, 100.1)).toEqual([layers[0], 0]);
    expect(found(table, 600, 600)).toEqual([0, -1]);
  });
});

describe("smaller copies", () => {
  it("are the mean of four texels each", () => {
    const data = new Uint8Array(16).map((_, k) => (k >> 2) * 10 + (k & 3));
    expect([...halved(data, 2)]).toEqual([15, 16, 17, 18]);
  });
});
