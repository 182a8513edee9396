import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { SiteDocument } from "../api/client";
import { useDocument } from "../site/context";
import { clear, made, onSite } from "../testing/onSite";
import { LightBench } from "./LightBench";

afterEach(() => {
  vi.unstubAllGlobals();
  clear();
});

type Light = SiteDocument["light"];
const Bench = () => <LightBench light={useDocument().light} />;
const answer = (status: number, body: object) =>
  vi.stubGlobal("fetch", () => Promise.resolve(new Response(JSON.stringify(body), { status })));
const NO_MOODS: [unknown[], unknown][] = [[["moods"], []]];
const file = new File(["light"], "yard.hdr");

describe("the bench of light", () => {
  it("takes a sky from a panorama that is brought in, says what was read, and lets it go again", async () => {
    const { document, commits } = onSite(
      <Bench />,
      { light: made<Light>("Light", { by: "hand", panorama: null }) },
      NO_MOODS,
    );
    expect(screen.queryByRole("button", { name: "Delete the panorama" })).toBeNull();
    answer(200, { source: "a".repeat(64), file_name: "yard.hdr", columns: 64, rows: 32, remarks: ["Kept smaller."] });
    await userEvent.upload(screen.getByLabelText("Panorama file"), file, { applyAccept: false });
    await waitFor(() => expect(document().light.by).toBe("panorama"));
    expect(document().light.panorama).toMatchObject({ source: "a".repeat(64), file_name: "yard.hdr", turn: 0 });
    expect(commits[0].label).toBe("Panorama yard.hdr");
    expect(screen.getByText("64 × 32 points.")).toBeTruthy();
    expect(screen.getByText("Kept smaller.")).toBeTruthy();
    expect(screen.getByRole("textbox", { name: /^Turn/ })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Delete the panorama" }));
    expect(document().light).toMatchObject({ by: "hand", panorama: null });
  });

  it("says why a file is not taken, and leaves the sky as it was", async () => {
    const { document } = onSite(<Bench />, { light: made<Light>("Light", { by: "time", panorama: null }) }, NO_MOODS);
    const message = "yard.hdr: it ends early, or is damaged; export it again.";
    answer(422, { message, fields: [{ field: "file", message }] });
    await userEvent.upload(screen.getByLabelText("Panorama file"), file, { applyAccept: false });
    expect((await screen.findByRole("alert")).textContent).toContain("ends early");
    expect(document().light.by).toBe("time");
  });
});
