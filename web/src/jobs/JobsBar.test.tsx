import { act, cleanup, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { client, type JobState } from "../api/client";
import type { QueryClient } from "@tanstack/react-query";
import { noteJob } from "../api/jobs";
import { clear, onSite, SITE } from "../testing/onSite";
import { JobsBar } from "./JobsBar";

const job = (id: string, values: Partial<JobState> = {}): JobState =>
  ({ id, kind: "measure", title: "Measuring", state: "running", patient: false, done: 3, total: 12, doing: "Sky exposure on Wall",
     message: "", result: {}, ...values }) as JobState; // prettier-ignore
let queries: QueryClient;
/** Have work told of, and wait until the page has heard of it. */
const put = (...jobs: JobState[]) =>
  act(async () => {
    jobs.forEach((one) => noteJob(queries, SITE, one));
    await new Promise((resolve) => setTimeout(resolve, 5));
  });

beforeEach(() => void vi.spyOn(client, "POST").mockResolvedValue({ data: {}, response: new Response() } as never));
afterEach(() => {
  cleanup();
  clear();
  vi.restoreAllMocks();
});

describe("work that goes on", () => {
  it("is told of: what it does, how much is left, how far it is", async () => {
    ({ queries } = onSite(<JobsBar />));
    expect(screen.queryByRole("status")).toBeNull();
    await put(job("a"));
    expect(screen.getByRole("status").textContent).toContain("Measuring: Sky exposure on Wall (9 to go)");
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("25");
  });

  it("that waits says so without a number", async () => {
    ({ queries } = onSite(<JobsBar />));
    await put(job("a", { state: "waiting", total: 0, done: 0, doing: "" }));
    expect(screen.getByRole("status").textContent).toContain("Measuring …");
    expect(screen.getByRole("progressbar").hasAttribute("aria-valuenow")).toBe(false);
  });

  it("that has time is told of once there is nothing more pressing", async () => {
    ({ queries } = onSite(<JobsBar />));
    await put(job("a", { kind: "prepare", title: "Getting ready", patient: true }), job("b"));
    expect(screen.getByRole("status").textContent).not.toContain("Getting ready");
    await put(job("b", { state: "done" }));
    expect(screen.getByRole("status").textContent).toContain("Getting ready");
  });

  it("that has time is told of one at a time, that which is being done", async () => {
    ({ queries } = onSite(<JobsBar />));
    const later = { title: "Drawing materials", patient: true, state: "waiting" } as const;
    await put(job("a", later), job("b", { title: "Getting ready", patient: true }));
    expect(screen.getAllByRole("progressbar")).toHaveLength(1);
    expect(screen.getByRole("status").textContent).toContain("Getting ready");
  });

  it("is stopped one by one, and gone once it has ended", async () => {
    ({ queries } = onSite(<JobsBar />));
    await put(job("a"), job("b", { title: "Exporting" }));
    fireEvent.click(screen.getAllByRole("button", { name: "Stop" })[1]);
    expect(client.POST).toHaveBeenCalledExactlyOnceWith("/api/jobs/{job_id}/cancel", {
      params: { path: { job_id: "b" } },
    });
    await put(job("b", { state: "cancelled" }), job("a", { state: "done" }));
    expect(screen.queryByRole("status")).toBeNull();
  });
});
