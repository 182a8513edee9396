import { act, fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { clear, onSite } from "../testing/onSite";
import { Climate } from "./Climate";

const now = { years: 10, damp: 0.5, snow: 0, season: 0.3 };
const winter = { years: 10, damp: 0.5, snow: 0.4, season: 0.9 };
const site = (states: object[] = []) => ({ climate: now, states });
const kept = [
  { id: "w", name: "Winter", climate: winter },
  { id: "n", name: "Today", climate: now },
];

afterEach(clear);

describe("the dials", () => {
  it("are one for each parameter of the climate, with its range", () => {
    onSite(<Climate />, site());
    const dials = screen.getAllByRole("slider");
    expect(dials.map((one) => one.getAttribute("aria-label")).sort()).toEqual(["Damp", "Season", "Snow", "Years"]);
    const years = screen.getByRole("slider", { name: "Years" });
    expect(years.getAttribute("aria-valuenow")).toBe("10");
    expect(Number(years.getAttribute("aria-valuemax"))).toBeGreaterThan(50);
  });

  it("step by arrow keys, by ten steps with Page Up, and never past their end", () => {
    const { document, commits } = onSite(<Climate />, site());
    const snow = screen.getByRole("slider", { name: "Snow" });
    fireEvent.keyDown(snow, { key: "ArrowDown" });
    expect(document().climate.snow).toBe(0);
    fireEvent.keyDown(snow, { key: "PageUp" });
    const ten = document().climate.snow;
    fireEvent.keyDown(snow, { key: "ArrowUp" });
    expect(document().climate.snow).toBeCloseTo(ten * 1.1, 6);
    // All of them are one step to undo.
    expect(commits).toEqual([]);
    fireEvent.blur(snow);
    expect(commits.map((one) => one.label)).toEqual(["Climate: snow"]);
  });

  it("are let go of where the pointer is taken away", () => {
    const { document, commits } = onSite(<Climate />, site());
    const years = screen.getByRole("slider", { name: "Years" });
    years.setPointerCapture = () => undefined;
    const pointer = (type: string, clientX: number) =>
      fireEvent(years, new MouseEvent(type, { bubbles: true, clientX, clientY: 100 }));
    pointer("pointerdown", 0);
    pointer("pointermove", 32);
    pointer("pointercancel", 32);
    expect(commits.length).toBe(1);
    expect(document().climate.years).toBe(30);
    pointer("pointermove", 90);
    expect(document().climate.years).toBe(30);
  });

  it("say what they stand at with its unit", () => {
    onSite(<Climate />, site());
    const texts = screen.getAllByRole("slider").map((one) => one.getAttribute("aria-valuetext"));
    expect(texts).toEqual(["10 years", "50 %", "0 cm", "summer"]);
  });

  it("go back to the usual value by a double click", () => {
    const { document } = onSite(<Climate />, site());
    fireEvent.doubleClick(screen.getByRole("slider", { name: "Years" }));
    expect(document().climate.years).not.toBe(10);
  });
});

describe("states of the dials", () => {
  it("are gone to at once", async () => {
    const { document, commits } = onSite(<Climate />, site(kept));
    expect((screen.getByLabelText("State") as HTMLSelectElement).value).toBe("n");
    await userEvent.selectOptions(screen.getByLabelText("State"), "Winter");
    expect(document().climate).toEqual(winter);
    expect(commits).toHaveLength(1);
  });

  it("are kept under a name that is not taken, and not without one", async () => {
    const { document } = onSite(<Climate />, site([{ id: "s", name: "State", climate: winter }]));
    await userEvent.click(screen.getByRole("button", { name: "Keep these dials" }));
    const box = screen.getByRole("textbox", { name: "Name of the state" }) as HTMLInputElement;
    expect(box.value).toBe("State 2");
    await userEvent.clear(box);
    await userEvent.type(box, "   {Enter}");
    expect(document().states).toHaveLength(1);
    await userEvent.click(screen.getByRole("button", { name: "Keep these dials" }));
    await userEvent.click(screen.getByRole("button", { name: "Keep" }));
    expect(document().states[1]).toMatchObject({ name: "State 2", climate: now });
  });

  it("can be forgotten while the dials stand on them; the dials stay", async () => {
    const { document } = onSite(<Climate />, site(kept));
    await userEvent.click(screen.getByRole("button", { name: "Delete this state" }));
    expect(document().states.map((one) => one.name)).toEqual(["Winter"]);
    expect(document().climate).toEqual(now);
    expect(screen.queryByRole("button", { name: "Delete this state" })).toBeNull();
  });

  it("say that there are none, and that the dials stand between them", () => {
    const { unmount } = onSite(<Climate />, site());
    expect(screen.getByText("no states kept yet")).toBeTruthy();
    unmount();
    onSite(<Climate />, site([kept[0]]));
    expect(screen.getByText("no kept state")).toBeTruthy();
  });
});

describe("a change that is played", () => {
  beforeEach(() => vi.useFakeTimers({ toFake: ["setInterval", "clearInterval", "performance"] }));
  afterEach(() => vi.useRealTimers());
  const play = () => {
    fireEvent.change(screen.getByLabelText("Play to"), { target: { value: "w" } });
    fireEvent.click(screen.getByRole("button", { name: "Play the change" }));
  };

  it("goes all the way as one step of the history", () => {
    const { document, commits, drafts } = onSite(<Climate />, site(kept));
    play();
    act(() => void vi.advanceTimersByTime(4000));
    const half = drafts[drafts.length - 1].operations[0].value as typeof now;
    expect(half.snow).toBeGreaterThan(0.1);
    expect(half.snow).toBeLessThan(0.3);
    act(() => void vi.advanceTimersByTime(6000));
    expect(document().climate).toEqual(winter);
    expect(commits).toHaveLength(1);
    expect(new Set(drafts.map((one) => one.gesture)).size).toBe(1);
  });

  it("is slower, and jumped over nowhere, where the page is held up", () => {
    const { drafts, commits } = onSite(<Climate />, site(kept));
    let time = 0;
    vi.spyOn(performance, "now").mockImplementation(() => time);
    play();
    time += 20000;
    act(() => void vi.advanceTimersByTime(250));
    const { snow } = drafts[0].operations[0].value as typeof now;
    expect(snow).toBeGreaterThan(0);
    expect(snow).toBeLessThan(0.1);
    expect(commits).toHaveLength(0);
    vi.mocked(performance.now).mockRestore();
  });

  it("stops where it is told to, and stays there", () => {
    const { document, commits } = onSite(<Climate />, site(kept));
    play();
    act(() => void vi.advanceTimersByTime(2000));
    fireEvent.click(screen.getByRole("button", { name: "Stop here" }));
    const { snow } = document().climate;
    expect(snow).toBeGreaterThan(0);
    expect(snow).toBeLessThan(0.2);
    act(() => void vi.advanceTimersByTime(9000));
    expect(document().climate.snow).toBe(snow);
    expect(commits).toHaveLength(1);
  });
});
