import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { clear, onSite, SITE } from "../testing/onSite";
import { StillsDialog } from "./StillsDialog";

afterEach(clear);

const shots = [
  { id: "a", name: "The gate", position: [0, 1, 5], target: [0, 1, 0], lens: 35, frame: "3:2", upright: false },
  { id: "b", name: "The steps", position: [0, 1, 5], target: [0, 1, 0], lens: 35, frame: "1:1", upright: false },
];
const still = (values: object = {}) => ({
  id: "s", name: "The gate", shot: "a", revision: 4, width: 640, height: 427, region: null, wanted: 16, samples: 16,
  seconds: 12, picture: "one.png", bytes: 1_200_000, created: "2026-11-30T10:00:00Z", job: { id: "j", kind: "still", state: "done", message: "", result: {} }, ...values,
}); // prettier-ignore
const shown = (stills: object[], onClose = () => undefined) =>
  onSite(<StillsDialog onClose={onClose} />, { shots } as never, [[["stills", SITE], stills]]);
const posted = (answer: unknown = still({ id: "new" })) =>
  vi.spyOn(client, "POST").mockResolvedValue({ data: answer, response: new Response() } as never);

describe("the stills of a site", () => {
  it("are taken as large and as finely as is asked for, and shown", async () => {
    const asked = posted();
    shown([]);
    expect(screen.getByText(/^A still is a picture/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Take a test" }));
    expect(asked).toHaveBeenCalledWith(
      "/api/sites/{site_id}/stills",
      expect.objectContaining({ body: { shot: "a", width: 640, height: 427, samples: 4, region: null, sharers: 0 } }),
    );
    await userEvent.click(screen.getByRole("combobox", { name: "Shot" }));
    await userEvent.click(screen.getByRole("option", { name: "The steps" }));
    await userEvent.click(screen.getByRole("combobox", { name: "Help from other workers" }));
    await userEvent.click(screen.getByRole("option", { name: "up to 3, as far as free" }));
    await userEvent.click(screen.getByRole("button", { name: "Take it" }));
    expect(asked).toHaveBeenLastCalledWith(
      "/api/sites/{site_id}/stills",
      expect.objectContaining({
        body: { shot: "b", width: 1920, height: 1920, samples: 256, region: null, sharers: 3 },
      }),
    );
    asked.mockRestore();
  });

  it("tell how they were taken, go on, and are fetched and deleted", async () => {
    const asked = posted();
    shown([still(), still({ id: "t", name: "The steps", samples: 3, wanted: 64 })]);
    expect(screen.getByText(/^The gate, 640 × 427 pixels, 16 of 16 samples in 12 s; revision 4/)).toBeTruthy();
    expect(screen.getByRole("link", { name: "Fetch EXR" }).getAttribute("href")).toBe("/api/stills/s/layers");
    await userEvent.click(screen.getByRole("button", { name: "Go on to 64" }));
    expect(asked).toHaveBeenLastCalledWith(
      "/api/stills/{still_id}/more",
      expect.objectContaining({ body: { samples: 64 } }),
    );
    await userEvent.click(screen.getByRole("button", { name: /The steps/ }));
    await userEvent.click(screen.getByRole("button", { name: "Go on" }));
    expect(asked).toHaveBeenLastCalledWith("/api/stills/{still_id}/more", {
      params: { path: { still_id: "t" } },
      body: { samples: 64 },
    });
    const removed = vi
      .spyOn(client, "DELETE")
      .mockResolvedValue({ response: new Response(null, { status: 204 }) } as never);
    await userEvent.click(screen.getByRole("button", { name: "Delete" }));
    expect(removed).toHaveBeenCalledWith("/api/stills/{still_id}", { params: { path: { still_id: "t" } } });
    asked.mockRestore();
    removed.mockRestore();
  });

  it("are written to files as the finish of their shot has them", async () => {
    const asked = posted({
      id: "w",
      kind: "finish",
      title: "Finishing",
      state: "running",
      message: "",
      done: 0,
      total: 3,
      doing: "",
      result: {},
    });
    const steps = [{ kind: "vignette" }];
    onSite(
      <StillsDialog onClose={() => undefined} />,
      { shots: [{ ...shots[0], finish: "f" }], finishes: [{ id: "f", name: "Evening", steps }] } as never,
      [[["stills", SITE], [still()]]],
    );
    await userEvent.click(screen.getByRole("combobox", { name: "File" }));
    await userEvent.click(screen.getByRole("option", { name: "TIFF, 16 bits" }));
    await userEvent.click(screen.getByRole("button", { name: "Write it" }));
    expect(asked).toHaveBeenLastCalledWith("/api/stills/{still_id}/files", {
      params: { path: { still_id: "s" } },
      body: { format: "tiff", stack: { steps } },
    });
    expect(screen.getByRole("progressbar", { name: "Finishing" })).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Write it" }).disabled).toBe(true);
    asked.mockRestore();
  });

  it("say why one came to nothing, and what a refusal says", async () => {
    const asked = vi.spyOn(client, "POST").mockResolvedValue({
      error: { message: "A site keeps 200 stills.", fields: [] },
      response: new Response(null, { status: 422 }),
    } as never);
    const failed = { id: "j", kind: "still", state: "failed", message: "The engine ended by itself.", result: {} };
    shown([still({ picture: "", samples: 0, job: failed })]);
    expect(screen.getByText("The engine ended by itself.")).toBeTruthy();
    expect(screen.getByText("No picture came of it.")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Take it" }));
    await waitFor(() => expect(screen.getByText(/A site keeps 200 stills/)).toBeTruthy());
    asked.mockRestore();
  });

  it("are taken of a part that is marked on one", async () => {
    const asked = posted();
    shown([still()]);
    // Whatever shot is chosen: the part is one of what is seen.
    await userEvent.click(screen.getByRole("combobox", { name: "Shot" }));
    await userEvent.click(screen.getByRole("option", { name: "The steps" }));
    const picture = screen.getByRole("img", { name: "Still of The gate" }).parentElement!;
    picture.getBoundingClientRect = () => ({ left: 0, top: 0, width: 200, height: 100 }) as DOMRect;
    picture.setPointerCapture = () => undefined;
    const at = (type: "pointerDown" | "pointerMove" | "pointerUp", clientX: number, clientY: number) =>
      fireEvent(picture, new MouseEvent(type.toLowerCase(), { bubbles: true, clientX, clientY, button: 0 }));
    at("pointerDown", 50, 10);
    at("pointerMove", 150, 60);
    at("pointerUp", 150, 60);
    expect(screen.getByText("Only the part that is marked is taken.")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Take a test" }));
    expect(asked).toHaveBeenLastCalledWith(
      "/api/sites/{site_id}/stills",
      expect.objectContaining({ body: expect.objectContaining({ shot: "a", region: [0.25, 0.1, 0.75, 0.6] }) }),
    );
    await userEvent.click(screen.getByRole("button", { name: "All of it" }));
    expect(screen.queryByText("Only the part that is marked is taken.")).toBeNull();
    asked.mockRestore();
  });
});
