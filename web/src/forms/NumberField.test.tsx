import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { NumberField } from "./NumberField";

afterEach(cleanup);

function shown(values: Partial<Parameters<typeof NumberField>[0]> = {}) {
  const onLive = vi.fn();
  const onSettle = vi.fn();
  render(
    <NumberField
      label="Density"
      value={2}
      low={0}
      high={10}
      step={0.5}
      unit="/m²"
      usual={3}
      {...{ onLive, onSettle, ...values }}
    />,
  );
  return { onLive, onSettle, box: screen.getByRole("textbox"), track: screen.queryByRole("slider") };
}

describe("a number", () => {
  it("is named with its unit, and its track without", () => {
    const { box, track } = shown();
    expect(box.getAttribute("aria-label")).toBe("Density, /m²");
    expect(track!.getAttribute("aria-label")).toBe("Density");
  });

  it("is taken when it is typed and entered, with a comma as with a point, and kept within its range", async () => {
    const { box, onLive, onSettle } = shown();
    await userEvent.clear(box);
    await userEvent.type(box, "4,5{Enter}");
    expect(onLive).toHaveBeenLastCalledWith(4.5);
    await userEvent.clear(box);
    await userEvent.type(box, "400");
    fireEvent.blur(box);
    expect(onLive).toHaveBeenLastCalledWith(10);
    expect(onSettle).toHaveBeenCalledTimes(2);
  });

  it("leaves things as they are for words, nothing, and on Escape", async () => {
    const { box, onLive } = shown();
    for (const typed of ["many", "", "7{Escape}"]) {
      await userEvent.clear(box);
      if (typed) await userEvent.type(box, typed);
      fireEvent.blur(box);
    }
    expect(onLive).not.toHaveBeenCalled();
    expect((box as HTMLInputElement).value).toBe("2");
  });

  it("goes by its step with the arrow keys, by ten of them with Shift", () => {
    const { box, onLive } = shown();
    fireEvent.keyDown(box, { key: "ArrowUp" });
    expect(onLive).toHaveBeenLastCalledWith(2.5);
    fireEvent.keyDown(box, { key: "ArrowDown", shiftKey: true });
    expect(onLive).toHaveBeenLastCalledWith(0);
  });

  it("keeps a number of thousands when it is typed over, and shows it as it is typed", async () => {
    const { box, onLive } = shown({ value: 1234, low: 0, high: 5000, step: 1 });
    expect((box as HTMLInputElement).value).toBe("1234");
    await userEvent.type(box, "{End}5{Enter}");
    expect(onLive).toHaveBeenLastCalledWith(5000);
    for (const [given, wanted] of [
      ["1,234", 1234],
      ["2 345.5", 2345.5],
      ["1,5", 1.5],
    ] as const) {
      await userEvent.clear(box);
      await userEvent.type(box, `${given}{Enter}`);
      if (wanted === 1234) continue; // It is what it was.
      expect(onLive).toHaveBeenLastCalledWith(wanted);
    }
    expect(onLive).toHaveBeenCalledTimes(3);
  });

  it("makes one step to undo of several presses of an arrow", async () => {
    vi.useFakeTimers();
    const { box, onLive, onSettle } = shown();
    for (let press = 0; press < 5; press++) fireEvent.keyDown(box, { key: "ArrowUp" });
    expect(onLive).toHaveBeenCalledTimes(5);
    expect(onSettle).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1000);
    expect(onSettle).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(box, { key: "ArrowDown" });
    fireEvent.blur(box);
    expect(onSettle).toHaveBeenCalledTimes(2);
    vi.advanceTimersByTime(1000);
    expect(onSettle).toHaveBeenCalledTimes(2);
    vi.useRealTimers();
  });

  it("goes by its step on the track too, and back to the usual value by a double click", () => {
    const { track, onLive, onSettle } = shown();
    fireEvent.keyDown(track!, { key: "ArrowRight" });
    expect(onLive).toHaveBeenLastCalledWith(2.5);
    fireEvent.blur(screen.getByRole("textbox"));
    fireEvent.doubleClick(track!.closest(".MuiSlider-root")!);
    expect(onLive).toHaveBeenLastCalledWith(3);
    expect(onSettle).toHaveBeenCalledTimes(2);
  });

  it("counts in whole ones where it counts things", async () => {
    const { box, onLive } = shown({ whole: true, step: 1 });
    await userEvent.clear(box);
    await userEvent.type(box, "4.6{Enter}");
    expect(onLive).toHaveBeenLastCalledWith(5);
  });

  it("stands alone where a track would jump over dozens of steps a pixel", () => {
    const { track } = shown({ low: -2000, high: 2000, value: 12, step: 0.01, usual: undefined });
    expect(track).toBeNull();
  });
});
