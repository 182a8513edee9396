import { describe, expect, it } from "vitest";
import { panoramas, toned } from "./daylight";

const [HEIGHT, WIDTH] = [4, 8];
const colour = {
  direction: [0, 1, 0],
  direct: [1, 1, 1],
  above: [0, 0, 0],
  below: [0, 0, 0],
  zenith: [0, 0, 0],
  scale: 1,
  glow: 1,
};

/** A sky whose red tells the row and whose green the column of each pixel. */
function sky() {
  const data = new Float32Array(HEIGHT * WIDTH * 4);
  for (let y = 0; y < HEIGHT; y++) for (let x = 0; x < WIDTH; x++) data.set([y, x, 0, 1], (y * WIDTH + x) * 4);
  return { arrays: { around: { data, shape: [HEIGHT, WIDTH, 4] } }, meta: { ...colour, horizon: [7, 8, 9] } };
}

const at = (texture: { image: { data: unknown } }, row: number, column: number) => [
  ...(texture.image.data as Float32Array).subarray((row * WIDTH + column) * 4, (row * WIDTH + column) * 4 + 4),
];

describe("the colour of haze", () => {
  it("is what the renderer would make of it: middle tones as they are, a little darker; what is bright pales below white", () => {
    expect(toned([0.5, 0.5, 0.5], 1).every((one) => Math.abs(one - 0.46) < 1e-9)).toBe(true);
    expect(toned([0.25, 0.25, 0.25], 2)).toEqual(toned([0.5, 0.5, 0.5], 1));
    expect(toned([0, 0, 0], 1)).toEqual([0, 0, 0]);
    const [red, green, blue] = toned([9, 4, 1], 1);
    expect(red).toBeLessThan(1);
    expect(red).toBeGreaterThan(0.95);
    expect(green).toBeGreaterThan(blue);
    // Paler than its own colour, which has a ninth of blue.
    expect(blue / red).toBeGreaterThan(1 / 9);
  });
});

describe("a sky for the renderer", () => {
  it("begins below, and a quarter turn before north", () => {
    const { around } = panoramas(sky());
    expect(at(around, 0, 2)).toEqual([3, 0, 0, 1]);
    expect(at(around, 3, 2)).toEqual([0, 0, 0, 1]);
    expect(at(around, 3, 0)).toEqual([0, 6, 0, 1]);
  });

  it("goes on as haze below the horizon, to the eye", () => {
    const { backdrop } = panoramas(sky());
    expect(at(backdrop, 3, 2)).toEqual([0, 0, 0, 1]);
    expect(at(backdrop, 0, 5)).toEqual([7, 8, 9, 1]);
  });
});
