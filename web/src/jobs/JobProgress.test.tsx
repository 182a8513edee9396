import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { JobState } from "../api/client";
import { JobProgress } from "./JobProgress";

afterEach(cleanup);

const job = (values: Partial<JobState>): JobState =>
  ({ id: "j", kind: "export", title: "Export", state: "running", patient: false, done: 1, total: 4, doing: "Wall",
     message: "", result: {}, ...values }) as JobState; // prettier-ignore

describe("a long task", () => {
  it("tells how far it is and what is left, under its own name, and can be stopped", () => {
    render(<JobProgress job={job({})} what="Exporting" />);
    expect(screen.getByText("Exporting: Wall (3 to go)")).toBeTruthy();
    expect(screen.getByRole("progressbar", { name: "Exporting" }).getAttribute("aria-valuenow")).toBe("25");
    expect(screen.getByRole("button", { name: "Stop" })).toBeTruthy();
  });

  it("has its file fetched where it has made one", () => {
    render(<JobProgress job={job({ state: "done", result: { file: "x", bytes: 2_500_000 } })} />);
    expect(screen.getByRole("alert").textContent).toContain("Written: 2.5 MB");
    expect(screen.getByRole("link", { name: "Fetch the file" }).getAttribute("href")).toBe("/api/jobs/j/file");
  });

  it.each(["failed", "cancelled"] as const)("that %s says why", (state) => {
    render(<JobProgress job={job({ state, message: "It was not done." })} />);
    expect(screen.getByRole("alert").textContent).toContain("It was not done.");
  });

  it("that is done and made no file has nothing more to say", () => {
    render(<JobProgress job={job({ state: "done" })} />);
    expect(screen.queryByRole("alert")).toBeNull();
  });
});
