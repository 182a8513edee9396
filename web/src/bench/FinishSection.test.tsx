import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { defaultsOf } from "../api/declared";
import { clear, made, onSite } from "../testing/onSite";
import { FinishSection } from "./FinishSection";
import { useView } from "../site/store";
import { stepsOf } from "../stills/finishes";

afterEach(clear);

const shot = (values: object = {}) => made<object>("Shot", { id: "a", name: "The gate", ...values });
const steps = [{ ...defaultsOf("exposure"), stops: 1 }, defaultsOf("vignette")];
const finish = { id: "f", name: "Evening", steps };

describe("the finish of a shot", () => {
  it("is made anew, and the shot has it", async () => {
    const { document } = onSite(<FinishSection index={0} />, { shots: [shot()] });
    await userEvent.click(screen.getByRole("combobox", { name: "Finish" }));
    await userEvent.click(screen.getByRole("option", { name: "A new one" }));
    const [one] = document().finishes;
    expect(one).toMatchObject({ name: "Finish", steps: [] });
    expect(document().shots[0].finish).toBe(one.id);
    await userEvent.click(screen.getByRole("combobox", { name: "Finish" }));
    await userEvent.click(screen.getByRole("option", { name: "None" }));
    expect(document().shots[0].finish).toBe("");
    expect(document().finishes).toHaveLength(1);
  });

  it("has steps that are added, moved, switched off and deleted, each one step of the history", async () => {
    const shots = [shot({ finish: "f" }), shot({ id: "b", finish: "f" })];
    const { document, commits } = onSite(<FinishSection index={0} />, { shots, finishes: [finish] });
    const kinds = () => document().finishes[0].steps.map(({ kind }) => kind);
    const press = (name: string) => userEvent.click(screen.getByRole("button", { name }));
    expect(screen.getByText("2 shots share it.")).toBeTruthy();
    await press("Move Exposure down");
    expect(kinds()).toEqual(["vignette", "exposure"]);
    await press("Hide Vignette");
    expect(document().finishes[0].steps.map(({ on }) => on)).toEqual([false, true]);
    await press("Delete Vignette");
    await press("Add a step");
    await userEvent.click(screen.getByRole("menuitem", { name: "Vignette" }));
    expect(kinds()).toEqual(["exposure", "vignette"]);
    expect(document().finishes[0].steps[1].on).toBe(true);
    expect(commits).toHaveLength(4);
  });

  it("is seen in the lit view, and says which of its steps are not", async () => {
    const meta = JSON.stringify({ meta: { bends: 1, most: 1, left_out: [1] }, arrays: [] });
    const content = new Uint8Array(8 + meta.length);
    new DataView(content.buffer).setUint32(0, 0x434e5431, false);
    new DataView(content.buffer).setUint32(4, meta.length, true);
    content.set(new TextEncoder().encode(meta), 8);
    const answer = { ok: true, arrayBuffer: () => Promise.resolve(content.buffer) } as Response;
    const asked = vi.spyOn(globalThis, "fetch").mockResolvedValue(answer);
    onSite(<FinishSection index={0} />, { shots: [shot({ finish: "f" })], finishes: [finish] });
    expect(await screen.findByText("On stills only: Vignette.")).toBeTruthy();
    expect(JSON.parse(asked.mock.calls[0][1]!.body as string)).toEqual({ steps });
    await userEvent.click(screen.getByRole("switch", { name: "Seen in the lit view" }));
    expect(useView.getState().finishSeen).toBe(false);
    expect(screen.queryByText(/On stills only/)).toBeNull();
  });

  it("is copied for one of the shots that share it, and deleted from all", async () => {
    const shots = [shot({ finish: "f" }), shot({ id: "b", finish: "f" })];
    const { document, commits } = onSite(<FinishSection index={0} />, { shots, finishes: [finish] });
    await userEvent.click(screen.getByRole("button", { name: "Copy" }));
    const own = document().finishes[1];
    expect(own).toEqual({ id: own.id, name: "Evening 2", steps });
    expect(document().shots.map((one) => one.finish)).toEqual([own.id, "f"]);
    await userEvent.click(screen.getByRole("combobox", { name: "Finish" }));
    await userEvent.click(screen.getByRole("option", { name: "Evening" }));
    await userEvent.click(screen.getByRole("button", { name: "Delete" }));
    expect(document().finishes.map(({ id }) => id)).toEqual([own.id]);
    expect(document().shots.map((one) => one.finish)).toEqual(["", ""]);
    expect(commits).toHaveLength(3);
  });

  it("shows the values of the step that is open", async () => {
    const { document } = onSite(<FinishSection index={0} />, { shots: [shot({ finish: "f" })], finishes: [finish] });
    await userEvent.click(screen.getByRole("button", { name: "Exposure" }));
    const field = screen.getByRole("textbox", { name: /^Stops/ });
    fireEvent.change(field, { target: { value: "2" } });
    fireEvent.blur(field);
    expect(document().finishes[0].steps[0]).toMatchObject({ kind: "exposure", stops: 2 });
  });

  it("gives a shot's stills its steps", () => {
    const document = { shots: [shot({ finish: "f" }), shot({ id: "b" })], finishes: [finish] } as never;
    expect(stepsOf(document, "a")).toHaveLength(2);
    expect(stepsOf(document, "b")).toEqual([]);
  });
});
