import { beforeEach, describe, expect, it, vi } from "vitest";
import type { SceneManifest, SiteDocument } from "../api/client";
import { learn, Previewer, usePreview, wantedFor } from "./preview";

vi.mock("../site/machine", () => ({ drawnByProcessor: true }));

const document = {
  weather: [
    { id: "moss", surfaces: ["wall", "hidden"], where: { shared: "m" } },
    { id: "dirt", surfaces: ["ground"], where: { shared: "" } },
  ],
  planting: [
    {
      id: "grass",
      surfaces: ["ground"],
      shown: true,
      mix: [{ item: "grass_tuft", where: {} }],
      where: {},
      size_where: {},
    },
    {
      id: "leaves",
      surfaces: ["ground"],
      shown: true,
      mix: [{ item: "dead_leaves", where: { shared: "m" } }],
      where: {},
      size_where: {},
    },
  ],
  wheres: [{ id: "m" }],
} as unknown as SiteDocument;
const scene = {
  surfaces: [
    { id: "ground", cells: 100_000 },
    { id: "wall", cells: 50_000 },
  ],
  items: [
    { kind: "grass_tuft", litter: false },
    { kind: "dead_leaves", litter: true },
  ],
  blankets: [{ layer: "dirt" }],
} as unknown as SceneManifest;
const change = (path: string) => [{ op: "replace" as const, path, value: 1 }];

describe("what a change asks a preview for", () => {
  it("is the surfaces that share the changed recipe, as far as they are shown", () => {
    expect(wantedFor(document, scene, change("/weather/0/where/cards/0/full_at"), null)).toMatchObject({
      surfaces: ["wall"],
      scatters: [],
      mask_of: null,
    });
  });

  it("is the layer whose density changes, and all of what a season touches", () => {
    expect(wantedFor(document, scene, change("/planting/0/density"), null)).toMatchObject({ scatters: ["grass"] });
    expect(wantedFor(document, scene, change("/climate/season"), null)).toMatchObject({
      surfaces: ["wall", "ground"],
      scatters: ["leaves"],
    });
    expect(wantedFor(document, scene, change("/climate/years"), null)!.scatters).toEqual([]);
  });

  it("is all that follows a shared mask, and the wind without anything else", () => {
    expect(wantedFor(document, scene, change("/wheres/0/cards/0/full_at"), null)).toMatchObject({
      surfaces: ["wall"],
      scatters: ["leaves"],
    });
    expect(wantedFor(document, scene, change("/wind/strength"), null)).toMatchObject({ surfaces: [], scatters: [] });
  });

  it("is a mask where one is looked at, and nothing where nothing shows", () => {
    const picked = { part: "planting" as const, id: "grass" };
    expect(wantedFor(document, scene, [], picked)).toMatchObject({ mask_of: "grass", surfaces: ["ground"] });
    expect(wantedFor(document, scene, change("/light/sun"), null)).toBeNull();
  });

  it("is the sheets of deep covers where the snow, or what lies as a sheet, is changed", () => {
    const asked = (path: string) => wantedFor(document, scene, change(path), null)!.blankets;
    expect(["/climate/snow", "/climate", "/weather/1/cover/slides"].map(asked)).toEqual([true, true, true]);
    expect(["/climate/years", "/weather/0/cover/amount"].map(asked)).toEqual([false, false]);
  });

  it("is coarser where answers have been slow", () => {
    const asked = () => wantedFor(document, scene, change("/climate/years"), null)!.coarser;
    for (let i = 0; i < 20; i++) learn(5);
    expect(asked()).toBe(0);
    for (let i = 0; i < 20; i++) learn(2000);
    expect(asked()).toBeGreaterThan(0);
  });
});

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
