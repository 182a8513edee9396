import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { clear, onSite, SITE } from "../testing/onSite";
import { FinishedFiles } from "./FinishedFiles";

afterEach(clear);

const file = (job: string, values: object = {}) => ({
  job, title: "Yard", ending: ".glb", about: "Instanced", bytes: 12_345_678, made: "2026-11-02T10:30:00Z",
  until: "2026-11-09T10:30:00Z", ...values,
}); // prettier-ignore

describe("files that were written before", () => {
  it("are listed with what they are, and fetched by their own names", async () => {
    const files = [file("a"), file("b", { title: "Brick", ending: ".zip" })];
    onSite(<FinishedFiles />, {}, [[["files", SITE], files]]);
    await userEvent.click(screen.getByRole("button", { name: "Files (2)" }));
    const links = screen.getAllByRole("link", { name: /^Fetch/ });
    expect(links.map((one) => one.getAttribute("href"))).toEqual(["/api/jobs/a/file", "/api/jobs/b/file"]);
    expect(links[1].getAttribute("aria-label")).toMatch(/^Fetch Brick\.zip of /);
    expect(screen.getAllByText(/Instanced · 12\.3 MB · waits until .*9/)).toHaveLength(2);
  });

  it("are deleted by name", async () => {
    const asked = vi
      .spyOn(client, "DELETE")
      .mockResolvedValue({ response: new Response(null, { status: 204 }) } as never);
    onSite(<FinishedFiles />, {}, [
      [
        ["files", SITE],
        [file("a"), file("b", { title: "Brick", ending: ".zip" })],
      ],
    ]);
    await userEvent.click(screen.getByRole("button", { name: "Files (2)" }));
    await userEvent.click(screen.getByRole("button", { name: /^Delete Brick\.zip of / }));
    expect(asked).toHaveBeenCalledWith("/api/jobs/{job_id}/file", { params: { path: { job_id: "b" } } });
    asked.mockRestore();
  });

  it("are told to come where there are none yet", async () => {
    onSite(<FinishedFiles />, {}, [[["files", SITE], []]]);
    await userEvent.click(screen.getByRole("button", { name: "Files" }));
    expect(screen.getByText(/^None yet\./)).toBeTruthy();
  });
});
