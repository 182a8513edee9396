import { describe, expect, it } from "vitest";
import { between, stateOf } from "./states";

const summer = { years: 0, damp: 0.4, snow: 0, season: 0.4 };
const winter = { years: 41, damp: 0.6, snow: 0.2, season: 1 };

describe("states of the climate", () => {
  it("are reached dial by dial", () => {
    expect(between(summer, winter, 0)).toEqual(summer);
    expect(between(summer, winter, 1)).toEqual(winter);
    expect(between(summer, winter, 0.5)).toEqual({ years: 21, damp: 0.5, snow: 0.1, season: 0.7 });
  });

  it("are known again where all dials agree", () => {
    const states = [
      { id: "a", name: "A", climate: summer },
      { id: "b", name: "B", climate: winter },
    ];
    expect(stateOf({ climate: { ...winter }, states })).toBe("b");
    expect(stateOf({ climate: { ...winter, snow: 0.3 }, states })).toBe("");
  });
});
