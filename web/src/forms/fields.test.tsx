import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { clear, onSite } from "../testing/onSite";
import { ColourField } from "./ColourField";
import { NameField } from "./NameField";
import { WordsField } from "./WordsField";

afterEach(() => {
  cleanup();
  clear();
});

describe("a colour", () => {
  it("is shown as screens show it and told as light adds up", () => {
    const onLive = vi.fn();
    render(<ColourField label="Tint" value={[1, 0, 0.2159]} onLive={onLive} onSettle={vi.fn()} />);
    const chooser = screen.getByLabelText("Tint") as HTMLInputElement;
    expect(chooser.value).toBe("#ff0080");
    fireEvent.change(chooser, { target: { value: "#808080" } });
    for (const part of onLive.mock.lastCall![0]) expect(part).toBeCloseTo(0.2159, 3);
  });
});

describe("words", () => {
  it("are taken when the field is left, once, and not before", async () => {
    const onDone = vi.fn();
    render(<WordsField label="Text" value="Lock" most={12} onDone={onDone} />);
    const box = screen.getByLabelText("Text") as HTMLTextAreaElement;
    expect(box.maxLength).toBe(12);
    await userEvent.type(box, " 4");
    expect(onDone).not.toHaveBeenCalled();
    fireEvent.blur(box);
    expect(onDone).toHaveBeenCalledExactlyOnceWith("Lock 4");
  });

  it("are taken by the modifier and Enter; Enter alone begins a line", async () => {
    const onDone = vi.fn();
    render(<WordsField label="Text" value="A" onDone={onDone} />);
    const box = screen.getByLabelText("Text");
    await userEvent.type(box, "{Enter}b");
    expect(onDone).not.toHaveBeenCalled();
    fireEvent.keyDown(box, { key: "Enter", ctrlKey: true });
    expect(onDone).toHaveBeenCalledWith("A\nb");
  });
});

describe("a name", () => {
  it("is changed by one step that says both names", async () => {
    const { commits } = onSite(<NameField name="Moss" path="/weather/0" />, {
      weather: [{ id: "m", name: "Moss", surfaces: [], where: { cards: [] } }],
    });
    const box = screen.getByLabelText("Name");
    await userEvent.clear(box);
    await userEvent.type(box, "  Old moss {Enter}");
    expect(commits).toEqual([
      { label: "Rename Moss to Old moss", operations: [{ op: "replace", path: "/weather/0/name", value: "Old moss" }] },
    ]);
  });

  it("is never empty", async () => {
    const { commits } = onSite(<NameField name="Moss" path="/weather/0" />);
    const box = screen.getByLabelText("Name") as HTMLInputElement;
    await userEvent.clear(box);
    fireEvent.blur(box);
    expect(box.value).toBe("Moss");
    expect(commits).toEqual([]);
  });
});
