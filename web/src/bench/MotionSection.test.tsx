import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { defaultsOf } from "../api/declared";
import { clear, made, onSite, SITE } from "../testing/onSite";
import { MotionSection } from "./MotionSection";
import { picturesOf } from "../stills/motions";

afterEach(clear);

const shot = (moves: object[], values: object = {}) =>
  made<object>("Shot", {
    id: "a",
    name: "The gate",
    frame: "16:9",
    motion: { seconds: 2, rate: 12, moves },
    ...values,
  });

describe("a shot that moves", () => {
  it("is given moves, each one step of the history, and nothing is taken before", async () => {
    const { document, commits } = onSite(<MotionSection index={0} />, { shots: [shot([])] });
    expect(screen.queryByRole("button", { name: "Take it" })).toBeNull();
    for (const name of ["Turntable", "Travel"]) {
      await userEvent.click(screen.getByRole("button", { name: "Add a move" }));
      await userEvent.click(screen.getByRole("menuitem", { name }));
    }
    expect(document().shots[0].motion.moves.map(({ kind }) => kind)).toEqual(["turntable", "travel"]);
    expect(commits).toHaveLength(2);
    // A move has no switch: it is deleted.
    expect(screen.queryByRole("button", { name: "Hide Travel" })).toBeNull();
  });

  it("goes to another shot that is chosen", async () => {
    const shots = [shot([defaultsOf("travel")]), made<object>("Shot", { id: "b", name: "The steps" })];
    const { document } = onSite(<MotionSection index={0} />, { shots });
    await userEvent.click(screen.getByRole("button", { name: "Travel" }));
    await userEvent.click(screen.getByRole("combobox", { name: "To" }));
    await userEvent.click(screen.getByRole("option", { name: "The steps" }));
    expect(document().shots[0].motion.moves[0]).toMatchObject({ kind: "travel", to: "b" });
  });

  it("is taken as large and as finely as is asked for, with what was refused in words", async () => {
    const asked = vi.spyOn(client, "POST").mockResolvedValue({
      error: { message: "You hold 20 GB.", fields: [] },
      response: new Response(null, { status: 422 }),
    } as never);
    onSite(<MotionSection index={0} />, { shots: [shot([defaultsOf("turntable")])] });
    expect(screen.getByText(/^24 pictures, /)).toBeTruthy();
    await userEvent.click(screen.getByRole("combobox", { name: "Size" }));
    await userEvent.click(screen.getByRole("option", { name: "320 × 180" }));
    await userEvent.click(screen.getByRole("combobox", { name: "File" }));
    await userEvent.click(screen.getByRole("option", { name: "WebM, VP9" }));
    await userEvent.click(screen.getByRole("button", { name: "Take it" }));
    expect(asked).toHaveBeenCalledWith("/api/sites/{site_id}/motions", {
      params: { path: { site_id: SITE } },
      body: { shot: "a", width: 320, samples: 4, format: "webm" },
    });
    expect(await screen.findByText(/You hold 20 GB/)).toBeTruthy();
    asked.mockRestore();
  });

  it("lasts as long as it is told to", () => {
    const { document } = onSite(<MotionSection index={0} />, { shots: [shot([])] });
    const field = screen.getByRole("textbox", { name: /^Seconds/ });
    fireEvent.change(field, { target: { value: "10" } });
    fireEvent.blur(field);
    expect(picturesOf(document().shots[0].motion)).toBe(120);
    expect(picturesOf({ seconds: 0.1, rate: 1 })).toBe(1);
  });
});
