import { beforeEach, describe, expect, it, vi } from "vitest";
import { Previewer, usePreview } from "./preview";

vi.mock("../site/machine", () => ({ drawnByProcessor: true }));

describe("asking for previews", () => {
  const requests: { body: string; answer: (measuring?: string | null) => void }[] = [];
  beforeEach(() => {
    requests.length = 0;
    usePreview.setState({ bases: {}, masks: null, placements: {}, sheets: {}, life: null, problem: "" });
    vi.stubGlobal(
      "fetch",
      (_: string, init: RequestInit) =>
        new Promise<Response>((resolve) =>
          requests.push({
            body: init.body as string,
            answer: (measuring: string | null = null) => {
              const head = JSON.stringify({ meta: { scatters: {}, measuring }, arrays: [] }).padEnd(40, " ");
              const bytes = new Uint8Array(8 + head.length);
              bytes.set(new TextEncoder().encode("CNT1"));
              new DataView(bytes.buffer).setUint32(4, head.length, true);
              bytes.set(new TextEncoder().encode(head), 8);
              resolve(new Response(bytes));
            },
          }),
        ),
    );
  });
  const wanted = (value: number) => ({
    operations: [{ op: "replace" as const, path: "/x", value }],
    surfaces: ["a"],
    scatters: [],
    blankets: false,
    mask_of: null,
    coarser: 0,
  });
  const settle = () => new Promise((resolve) => setTimeout(resolve, 5));

  it("is done one at a time, and of several wishes only the latest is kept", async () => {
    const previewer = new Previewer("s");
    for (const value of [1, 2, 3]) previewer.ask(wanted(value), 0);
    expect(requests).toHaveLength(1);
    requests[0].answer();
    await settle();
    expect(requests).toHaveLength(2);
    expect(requests[1].body).toContain('"value":3');
  });

  it("asks again until what is tried has been measured, and not once something else is tried", async () => {
    vi.useFakeTimers();
    const previewer = new Previewer("s");
    previewer.ask(wanted(1), 0);
    requests[0].answer("job");
    await vi.advanceTimersByTimeAsync(1500);
    expect(requests).toHaveLength(2);
    expect(requests[1].body).toBe(requests[0].body);
    requests[1].answer("job");
    await vi.advanceTimersByTimeAsync(100);
    previewer.ask(wanted(2), 0);
    requests[2].answer();
    await vi.advanceTimersByTimeAsync(5000);
    expect(requests).toHaveLength(3);
    vi.useRealTimers();
  });

  it("does not ask for the same again, but does after it was forgotten or the site moved on", async () => {
    const previewer = new Previewer("s");
    previewer.ask(wanted(1), 7);
    requests[0].answer();
    await settle();
    previewer.ask(wanted(1), 7);
    expect(requests).toHaveLength(1);
    previewer.ask(wanted(1), 8);
    expect(requests).toHaveLength(2);
  });
});
