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

  it("goes by its step on the track too, and back to the usual value by a double click", () => {
    const { track, onLive, onSettle } = shown();
    fireEvent.keyDown(track!, { key: "ArrowRight" });
    expect(onLive).toHaveBeenLastCalledWith(2.5);
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
