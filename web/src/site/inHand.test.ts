import { describe, expect, it } from "vitest";
import { brushIn, type InHand, itemToolIn, probeDown, probeUp, probingIn } from "./inHand";

const brush: InHand = { what: "brush", tool: "raise", radius: 1, strength: 1, soft: 0.5 };

describe("what is in the hand", () => {
  it("is one thing at a time", () => {
    expect(brushIn({ inHand: brush })).toBe(brush);
    expect(itemToolIn({ inHand: brush })).toBeNull();
    expect(probingIn({ inHand: brush })).toBe(false);
  });

  it("comes back when the probe's key is let go", () => {
    const asking = probeUp(brush);
    expect(probingIn({ inHand: asking })).toBe(true);
    expect(brushIn({ inHand: asking })).toBeNull();
    expect(probeUp(asking)).toBe(asking);
    expect(probeDown(asking)).toBe(brush);
    expect(probeDown(probeUp(null))).toBeNull();
    expect(probeDown(brush)).toBe(brush);
  });
});
