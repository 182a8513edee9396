import { describe, expect, it } from "vitest";
import { reading } from "./reading";

describe("a dial", () => {
  it("reads as people say it", () => {
    expect([0, 1, 25].map((years) => reading("years", years, 1))).toEqual(["0 years", "1 year", "25 years"]);
    expect(reading("damp", 0.6, 0.02)).toBe("60 %");
    expect([0, 0.14, 0.005, 1.2].map((metres) => reading("snow", metres, 0.01))).toEqual([
      "0 cm",
      "14 cm",
      "1 cm",
      "1.2 m",
    ]);
    expect([0, 0.4, 0.7, 1].map((share) => reading("season", share, 0.05))).toEqual([
      "spring",
      "summer",
      "autumn",
      "winter",
    ]);
    expect(reading("another", 0.5, 0.1)).toBe("0.5");
  });
});
