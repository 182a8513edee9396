import { describe, expect, it } from "vitest";
import { panoramas } from "./daylight";

const [HEIGHT, WIDTH] = [4, 8];
const colour = {
  direction: [0, 1, 0],
  direct: [1, 1, 1],
  above: [0, 0, 0],
  below: [0, 0, 0],
  zenith: [0, 0, 0],
  fog: [0, 0, 0],
  fog_sun: [0, 0, 0],
  dust: [1, 1, 1],
  air: { haze: 0.001, fog: 0, top: 0, fade: 1, banks: 0, size: 25, side: 4, lobe: 0.76 },
  drifts: [],
  scale: 1,
  brighter: 1,
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
