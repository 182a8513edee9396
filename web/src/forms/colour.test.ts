import { describe, expect, it } from "vitest";
import { fromHex, toHex } from "./colour";

describe("colours", () => {
  it("go to the screen's encoding and back", () => {
    expect(toHex([0, 0.21586, 1])).toBe("#0080ff");
    expect(fromHex("#0080ff")).toEqual([0, 0.21586, 1]);
    for (const hex of ["#000000", "#ffffff", "#7f3a05", "#010203"]) expect(toHex(fromHex(hex))).toBe(hex);
  });
  it("are clipped to what a screen shows", () => expect(toHex([-1, 2, 0.5])).toBe("#00ffbc"));
});
