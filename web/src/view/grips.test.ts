import { beforeEach, describe, expect, it, vi } from "vitest";
import { gripping } from "./grips";

let frame: HTMLElement;
const send = (type: string) => {
  const event = new MouseEvent(type, { bubbles: true, cancelable: true });
  frame.dispatchEvent(event);
  return event;
};

beforeEach(() => {
  document.body.innerHTML = "<div><div></div></div>";
  frame = document.querySelector<HTMLElement>("div > div")!;
});

describe("grips", () => {
  it("let one that takes a press have all until it is let go, and nobody else", () => {
    const first = { press: vi.fn(() => true), move: vi.fn(() => true), release: vi.fn(() => true) };
    const second = { press: vi.fn(() => false), move: vi.fn(() => false), release: vi.fn(() => false) };
    const below = vi.fn();
    frame.addEventListener("pointerdown", below);
    gripping(frame, second);
    gripping(frame, first, true);
    expect(send("pointerdown").defaultPrevented).toBe(true);
    send("pointermove");
    send("pointerup");
    expect([second.press, second.move, second.release, below].every((one) => !one.mock.calls.length)).toBe(true);
    expect([first.press, first.move, first.release].map((one) => one.mock.calls.length)).toEqual([1, 1, 1]);
  });

  it("pass on what nobody takes", () => {
    const grip = { press: vi.fn(() => false), release: vi.fn(() => false) };
    const below = vi.fn();
    frame.addEventListener("pointerdown", below);
    gripping(frame, grip);
    expect(send("pointerdown").defaultPrevented).toBe(false);
    send("pointerup");
    expect(below).toHaveBeenCalledTimes(1);
    expect(grip.release).toHaveBeenCalledTimes(1);
  });

  it("end a press that is taken away, as a cancel or else as a release", () => {
    const one = { press: () => true, release: vi.fn(() => true), cancel: vi.fn(() => true) };
    const letGo = gripping(frame, one);
    send("pointerdown");
    send("pointercancel");
    expect([one.cancel.mock.calls.length, one.release.mock.calls.length]).toEqual([1, 0]);
    letGo();
    const other = { press: () => true, release: vi.fn(() => true) };
    gripping(frame, other);
    send("pointerdown");
    send("pointercancel");
    expect(other.release).toHaveBeenCalledTimes(1);
  });

  it("leave nothing behind once let go of", () => {
    const grip = { press: vi.fn(() => true) };
    gripping(frame, grip)();
    expect(send("pointerdown").defaultPrevented).toBe(false);
    expect(grip.press).not.toHaveBeenCalled();
  });
});
