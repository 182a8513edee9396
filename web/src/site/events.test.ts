import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { jobsNow } from "../api/jobs";
import type { Editor } from "./editor";
import { followSite } from "./events";
import { useView } from "./store";

/** The line to the server, in the test's hands. */
class FakeSource {
  static readonly CLOSED = 2;
  static last: FakeSource;
  static opened = 0;
  readyState = 1;
  onerror: () => void = () => undefined;
  onmessage: (message: { data: string }) => void = () => undefined;
  closed = false;
  constructor(readonly address: string) {
    FakeSource.last = this;
    FakeSource.opened += 1;
  }
  close() {
    this.closed = true;
  }
  say(event: object) {
    this.onmessage({ data: JSON.stringify(event) });
  }
}

describe("following a site", () => {
  const editor = { busy: false, refresh: vi.fn(() => Promise.resolve()) };
  let queries: QueryClient;
  let stop: () => void;
  let line: FakeSource;

  beforeEach(() => {
    vi.stubGlobal("EventSource", FakeSource);
    editor.busy = false;
    editor.refresh.mockClear();
    useView.getState().set({ draft: null, notice: null });
    queries = new QueryClient();
    queries.setQueryData(["site", "s"], { revision: 3 });
    stop = followSite("s", queries, editor as unknown as Editor);
    line = FakeSource.last;
  });

  it("shows what was changed elsewhere and says so", () => {
    expect(line.address).toBe("/api/sites/s/events");
    line.say({ type: "changed", revision: 4, label: "Density" });
    expect(editor.refresh).toHaveBeenCalledOnce();
    expect(useView.getState().notice?.text).toContain("Changed elsewhere: Density");
  });

  it("takes no notice of its own changes", () => {
    line.say({ type: "changed", revision: 3, label: "Mine, answered" });
    editor.busy = true;
    line.say({ type: "changed", revision: 4, label: "Mine, on its way" });
    expect(editor.refresh).not.toHaveBeenCalled();
    expect(useView.getState().notice).toBeNull();
  });

  it("pulls nothing out of the hand of somebody who drags", () => {
    useView.getState().set({ draft: { gesture: "g", label: "Years", operations: [] } });
    line.say({ type: "changed", revision: 4, label: "Density" });
    expect(editor.refresh).not.toHaveBeenCalled();
    expect(useView.getState().notice?.text).toContain("before anything is overwritten");
  });

  it("reads the newest state after a break in the line, and not at its first word", () => {
    line.say({ type: "connected" });
    expect(editor.refresh).not.toHaveBeenCalled();
    line.say({ type: "connected" });
    expect(editor.refresh).toHaveBeenCalledOnce();
  });

  it("keeps jobs, and asks for the scene again when its signals are measured", () => {
    const asked = vi.spyOn(queries, "invalidateQueries");
    const job = { id: "j", kind: "measure", state: "running", done: 1, total: 3, result: {} };
    line.say({ type: "job", job });
    expect(jobsNow(queries, "s").j).toMatchObject({ done: 1 });
    expect(asked).not.toHaveBeenCalled();
    line.say({ type: "job", job: { ...job, state: "done" } });
    expect(asked.mock.calls.map(([filter]) => filter?.queryKey?.[0])).toEqual(["scene", "where"]);
  });

  it("reads after a break how far its jobs have come", async () => {
    const job = { id: "j", kind: "measure", state: "running", done: 1, total: 3, result: {} };
    line.say({ type: "connected" });
    line.say({ type: "job", job });
    const answer = { data: { ...job, state: "done" }, response: new Response() };
    const asked = vi.spyOn(client, "GET").mockResolvedValue(answer as never);
    line.say({ type: "connected" });
    await vi.waitFor(() => expect(jobsNow(queries, "s").j.state).toBe("done"), 30_000);
    expect(asked).toHaveBeenCalledOnce();
    asked.mockRestore();
  });

  it("tries again where the line is refused, later each time, and looks who is signed in", () => {
    vi.useFakeTimers();
    const asked = vi.spyOn(queries, "invalidateQueries");
    FakeSource.opened = 0;
    for (const [after, lines] of [
      [1000, 1],
      [2000, 2],
      [4000, 3],
    ]) {
      FakeSource.last.readyState = FakeSource.CLOSED;
      FakeSource.last.onerror();
      vi.advanceTimersByTime(after - 1);
      expect(FakeSource.opened).toBe(lines - 1);
      vi.advanceTimersByTime(1);
      expect(FakeSource.opened).toBe(lines);
    }
    expect(asked).toHaveBeenCalledWith({ queryKey: ["session"] });
    FakeSource.last.say({ type: "connected" });
    // What only breaks is the browser's to mend.
    FakeSource.last.readyState = 0;
    FakeSource.last.onerror();
    vi.advanceTimersByTime(60_000);
    expect(FakeSource.opened).toBe(3);
    stop();
    vi.useRealTimers();
  });

  it("ends with the page, and is not opened again after it", () => {
    vi.useFakeTimers();
    line.readyState = FakeSource.CLOSED;
    line.onerror();
    FakeSource.opened = 0;
    stop();
    vi.advanceTimersByTime(60_000);
    expect([line.closed, FakeSource.opened]).toEqual([true, 0]);
    vi.useRealTimers();
  });
});
