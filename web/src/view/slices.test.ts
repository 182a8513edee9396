import { afterEach, describe, expect, it, vi } from "vitest";
import { inSlices } from "./slices";

afterEach(() => vi.useRealTimers());

/** Work of some steps, each of so many milliseconds by a clock of its own. */
function work(steps: number, each: number) {
  const clock = { now: 0, done: 0 };
  function* going(): Generator<void, string> {
    for (let step = 0; step < steps; step++) {
      clock.now += each;
      clock.done += 1;
      yield;
    }
    return "made";
  }
  return { clock, going: going(), now: () => clock.now };
}

describe("work in slices", () => {
  it("is done at once where it is short", () => {
    const done = vi.fn();
    const { going, now } = work(3, 2);
    inSlices(going, done, now);
    expect(done).toHaveBeenCalledWith("made");
  });

  it("lets the page have a turn where it is long, and ends", () => {
    vi.useFakeTimers();
    const done = vi.fn();
    const { clock, going, now } = work(20, 4);
    inSlices(going, done, now);
    expect(clock.done).toBe(3);
    vi.runAllTimers();
    expect(clock.done).toBe(20);
    expect(done).toHaveBeenCalledOnce();
  });

  it("is given up", () => {
    vi.useFakeTimers();
    const done = vi.fn();
    const { clock, going, now } = work(20, 4);
    inSlices(going, done, now)();
    vi.runAllTimers();
    expect(clock.done).toBe(3);
    expect(done).not.toHaveBeenCalled();
  });
});
