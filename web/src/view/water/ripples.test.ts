import { describe, expect, it } from "vitest";
import { causticsBelow, rippleSlopes } from "./ripples";

describe("ripples", () => {
  it("are level on the whole, as steep as is said, and go on over their borders", () => {
    const slopes = rippleSlopes();
    const mean = slopes.reduce((sum, one) => sum + one, 0) / slopes.length;
    const squares = slopes.reduce((sum, one) => sum + one * one, 0) / slopes.length;
    expect(mean).toBeCloseTo(0, 3);
    expect(squares).toBeCloseTo(1, 4);
    const side = Math.sqrt(slopes.length / 2);
    const step = (at: number, next: number) => Math.abs(slopes[at * 2] - slopes[next * 2]);
    const within = Math.max(...Array.from({ length: side - 1 }, (_, x) => step(x, x + 1)));
    expect(step(side - 1, 0)).toBeLessThanOrEqual(within);
  });

  it("gather light in lines below them, and lose none", () => {
    const light = causticsBelow(rippleSlopes());
    expect(light.reduce((sum, one) => sum + one, 0) / light.length).toBeCloseTo(1, 4);
    expect(Math.max(...light)).toBeGreaterThan(2);
    expect(Math.min(...light)).toBeGreaterThanOrEqual(0);
    const level = causticsBelow(new Float32Array(light.length * 2));
    expect(Math.max(...level) - Math.min(...level)).toBeLessThan(0.2);
  });
});
