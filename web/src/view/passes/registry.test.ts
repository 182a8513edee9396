import { describe, expect, it } from "vitest";
import type { Frame } from "./pass";
import { PASSES } from "./registry";

const frame = (shadows: number, more: Partial<Frame> = {}) =>
  ({
    gl: { shadowMap: { needsUpdate: false } },
    copies: { inSight: 0, drawn: 0, shadows },
    hurried: false,
    moving: false,
    still: false,
    blowing: false,
    invalidate: () => undefined,
    ...more,
  }) as Frame;

describe("the passes of a frame", () => {
  it("are found as files: what is shown, what casts shadows, the picture", () => {
    expect(PASSES.map(({ name }) => name)).toEqual(["copies", "grass", "shadows", "picture"]);
  });

  it("draw shadows anew for another set of casters, once, and late where the frame is hurried", () => {
    const shadows = PASSES.find(({ name }) => name === "shadows")!.make();
    const drawn = (one: Frame) => {
      shadows(one);
      return one.gl.shadowMap.needsUpdate;
    };
    expect([drawn(frame(7)), drawn(frame(7)), drawn(frame(8))]).toEqual([true, false, true]);
    // What has moved while a drag goes on is owed until its end.
    const dragged = frame(8, { hurried: true });
    dragged.gl.shadowMap.needsUpdate = true;
    expect([drawn(dragged), drawn(frame(8)), drawn(frame(8))]).toEqual([false, true, false]);
    // Where it sways all along, it is drawn at each frame that says so.
    const swaying = frame(8, { hurried: true, blowing: true });
    swaying.gl.shadowMap.needsUpdate = true;
    expect(drawn(swaying)).toBe(true);
    // The frame that shows more while all is still leaves them to the next, which it asks for.
    let asked = 0;
    const rest = frame(8, { still: true, invalidate: () => asked++ });
    rest.gl.shadowMap.needsUpdate = true;
    expect([drawn(rest), asked, drawn(frame(8)), drawn(frame(8))]).toEqual([false, 1, true, false]);
    // While the camera moves, the set may change and nothing is drawn anew; then it is.
    expect([drawn(frame(9, { moving: true })), drawn(frame(9))]).toEqual([false, true]);
  });
});
