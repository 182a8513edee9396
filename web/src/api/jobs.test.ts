import { QueryClient } from "@tanstack/react-query";
import { describe, expect, it, vi } from "vitest";
import { client, type JobState } from "./client";
import { jobsNow, noteJob, readJobs } from "./jobs";

const job = (id: string, state: JobState["state"]): JobState => ({ id, state }) as JobState;

describe("the long work of a site", () => {
  it("is read once it is opened, without undoing what was told meanwhile", async () => {
    const queries = new QueryClient();
    noteJob(queries, "s", job("a", "running"));
    vi.spyOn(client, "GET").mockImplementation(async () => {
      noteJob(queries, "s", job("b", "done"));
      return { data: [job("a", "running"), job("b", "running")], response: new Response() } as never;
    });
    await readJobs(queries, "s");
    expect(Object.values(jobsNow(queries, "s")).map(({ state }) => state)).toEqual(["running", "done"]);
    expect(jobsNow(queries, "other")).toEqual({});
    vi.restoreAllMocks();
  });
});
