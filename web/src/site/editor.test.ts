import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { client, type SiteState } from "../api/client";
import { siteQuery } from "../api/queries";
import { Editor } from "./editor";
import { useView } from "./store";

interface Call {
  path: string;
  body: { revision: number; operations?: { path: string; value?: unknown }[]; label?: string; request?: string };
  answer: (status: number, body: unknown) => void;
}

const calls: Call[] = [];
/** What the server has, for whoever fetches the site anew. */
let newest: SiteState;
let documentNow: { years: number; damp: number };

/** The server's answer to an edit on a revision. */
const state = (revision: number, document: object) =>
  ({ id: "s", name: "S", revision, document, undo: "x", redo: null }) as unknown as SiteState;

/** Let everything that is ready run. */
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

function setUp() {
  calls.length = 0;
  documentNow = { years: 1, damp: 0.5 };
  newest = state(1, documentNow);
  localStorage.clear();
  useView.getState().set({ draft: null, conflict: null, notice: null, saving: "saved" });
  vi.spyOn(client, "POST").mockImplementation(((path: string, { body }: { body: Call["body"] }) => {
    return new Promise((resolve) =>
      calls.push({
        path: path.replace("{site_id}", "s"),
        body,
        answer: (status, content) => {
          const response = new Response(JSON.stringify(content), { status });
          resolve(status < 400 ? { data: content, response } : { error: content, response });
        },
      }),
    );
  }) as never);
  vi.stubGlobal("fetch", async (path: string, init: RequestInit) => {
    calls.push({ path, body: JSON.parse(init.body as string) as Call["body"], answer: () => undefined });
    return new Response("{}");
  });
  vi.spyOn(client, "GET").mockImplementation((async () => ({ data: newest, response: new Response() })) as never);
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(["site", "s"], state(1, documentNow));
  return { editor: new Editor("s", queries), queries };
}

const years = (value: number) => [{ op: "replace" as const, path: "/years", value }];

describe("the editor", () => {
  let editor: Editor;
  let queries: QueryClient;
  beforeEach(() => ({ editor, queries } = setUp()));
  const shown = () => (queries.getQueryData<SiteState>(["site", "s"])!.document as unknown as typeof documentNow).years;

  it("does not call saved what is still being made, and does again once it is", async () => {
    const saving = () => useView.getState().saving;
    editor.draft({ gesture: "g", label: "Drag", operations: years(9) });
    expect(saving()).toBe("saving");
    editor.settle();
    expect(saving()).toBe("saving");
    calls[0].answer(200, state(2, { years: 9, damp: 0.5 }));
    await settle();
    expect(saving()).toBe("saved");
    // One more that comes to the same thing as what was saved has nothing to send.
    editor.draft({ gesture: "g", label: "Drag", operations: years(9) });
    editor.settle();
    expect(saving()).toBe("saved");
  });

  it("shows an edit at once and sends it on top of the revision it was made on", async () => {
    editor.commit("Years", years(5));
    expect(shown()).toBe(5);
    expect(useView.getState().saving).toBe("saving");
    await settle();
    expect(calls[0].body).toMatchObject({ revision: 1, label: "Years", operations: years(5) });
    calls[0].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(useView.getState().saving).toBe("saved");
    expect(editor.busy).toBe(false);
  });

  it("stays while the site is read, as the server has it without the edit still", async () => {
    editor.commit("Years", years(5));
    await queries.fetchQuery({ ...siteQuery(queries, "s"), staleTime: 0 });
    expect(shown()).toBe(5);
    calls[0].answer(200, state(2, { years: 5, damp: 0.5 }));
    await settle();
    newest = state(3, { years: 8, damp: 0.5 });
    await queries.fetchQuery({ ...siteQuery(queries, "s"), staleTime: 0 });
    expect(shown(), "once it is answered, what others do is read again").toBe(8);
  });

  it("sends edits one after another, each on the revision that the one before gave", async () => {
    editor.commit("A", years(5));
    editor.commit("B", years(6));
    await settle();
    expect(calls).toHaveLength(1);
    calls[0].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(shown()).toBe(6);
    expect(calls[1].body.revision).toBe(2);
  });

  it("sends only the latest of one gesture's values that still wait", async () => {
    for (const value of [5, 6, 7]) editor.commit("Drag", years(value), "g");
    await settle();
    calls[0].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(calls).toHaveLength(2);
    expect(calls[1].body.operations).toEqual(years(7));
  });

  it("lets undo wait for its turn", async () => {
    editor.commit("A", years(5));
    editor.step(true);
    editor.step(true);
    await settle();
    expect(calls.map((call) => call.path)).toEqual(["/api/sites/s/edits"]);
    calls[0].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(calls[1]).toMatchObject({ path: "/api/sites/s/undo", body: { revision: 2 } });
    calls[1].answer(200, state(3, documentNow));
    await settle();
    expect(calls[2]).toMatchObject({ path: "/api/sites/s/undo", body: { revision: 3 } });
  });

  it("stops at a conflict, keeps the refused edit, and puts it on top of the newest state if asked", async () => {
    editor.commit("Mine", years(5));
    await settle();
    calls[0].answer(409, { message: "changed elsewhere", fields: [], revision: 4 });
    await settle();
    expect(useView.getState().conflict).toMatchObject({ label: "Mine" });
    editor.commit("More", years(6));
    await settle();
    expect(calls).toHaveLength(1);
    newest = state(4, { years: 50, damp: 0.1 });
    await editor.resolveConflict(true);
    await settle();
    expect(calls[1].body).toMatchObject({ revision: 4, label: "Mine" });
    expect(shown()).toBe(6);
  });

  it("holds back what is changed while the newest state is read, and puts it on top as well", async () => {
    editor.commit("Mine", years(5));
    await settle();
    calls[0].answer(409, { message: "changed elsewhere", fields: [], revision: 4 });
    await settle();
    newest = state(4, { years: 50, damp: 0.1 });
    const resolved = editor.resolveConflict(true);
    editor.commit("More", years(6));
    expect(calls).toHaveLength(1);
    await resolved;
    await settle();
    expect(calls[1].body).toMatchObject({ revision: 4, label: "Mine" });
    calls[1].answer(200, state(5, { years: 5, damp: 0.1 }));
    await settle();
    expect(calls[2].body).toMatchObject({ revision: 5, label: "More" });
    expect(useView.getState().conflict).toBeNull();
    expect(shown()).toBe(6);
  });

  it("is put on top of what has become the newest meanwhile as well, and asks again only after many tries", async () => {
    editor.commit("Mine", years(5));
    await settle();
    calls[0].answer(409, { message: "changed elsewhere", fields: [], revision: 4 });
    await settle();
    newest = state(4, { years: 50, damp: 0.1 });
    await editor.resolveConflict(true);
    for (let tries = 1; tries <= 6; tries++) {
      await settle();
      expect(calls).toHaveLength(tries + 1);
      expect(useView.getState().conflict).toBeNull();
      expect(calls[tries].body).toMatchObject({ revision: 3 + tries, label: "Mine" });
      newest = state(4 + tries, { years: 50, damp: 0.1 });
      calls[tries].answer(409, { message: "changed elsewhere", fields: [], revision: 4 + tries });
    }
    await settle();
    expect(useView.getState().conflict).toMatchObject({ label: "Mine" });
    expect(calls).toHaveLength(7);
  });

  it("keeps what the server could not take and says so", async () => {
    vi.useFakeTimers();
    editor.commit("A", years(5));
    await vi.advanceTimersByTimeAsync(0);
    calls[0].answer(503, { message: "away" });
    await vi.advanceTimersByTimeAsync(0);
    expect(useView.getState().saving).toBe("waiting");
    expect(editor.busy).toBe(true);
    await vi.advanceTimersByTimeAsync(4000);
    expect(calls).toHaveLength(2);
    expect(calls[1].body.operations).toEqual(years(5));
    vi.useRealTimers();
  });

  it("asks again for an undo that met a server that was away", async () => {
    vi.useFakeTimers();
    editor.step(true);
    await vi.advanceTimersByTimeAsync(0);
    calls[0].answer(500, { message: "an error of ours" });
    await vi.advanceTimersByTimeAsync(4000);
    expect(calls.map((call) => call.path)).toEqual(["/api/sites/s/undo", "/api/sites/s/undo"]);
    calls[1].answer(200, state(2, documentNow));
    await vi.advanceTimersByTimeAsync(0);
    expect(useView.getState().saving).toBe("saved");
    vi.useRealTimers();
  });

  it("lets go of an undo that the server refuses", async () => {
    editor.step(true);
    await settle();
    calls[0].answer(409, { message: "There is nothing to undo.", fields: [], revision: 1 });
    await settle();
    expect(useView.getState()).toMatchObject({ conflict: null, notice: { text: "There is nothing to undo." } });
    expect(editor.busy).toBe(false);
  });

  it("lets go of an edit that the server refuses, by field", async () => {
    editor.commit("Bad", years(-1));
    await settle();
    calls[0].answer(422, { message: "Some values cannot be used.", fields: [{ field: "years", message: "too few" }] });
    await settle();
    expect(useView.getState().notice?.text).toContain("years: too few");
    expect(editor.busy).toBe(false);
  });

  it("keeps what is refused for want of signing in, for when that is done", async () => {
    editor.commit("A", years(5));
    editor.commit("B", years(6));
    await settle();
    calls[0].answer(401, {});
    await settle();
    expect(editor.busy).toBe(false);
    const again = setUpAgain();
    await again.resume();
    await settle();
    expect(calls[1].body).toMatchObject({ label: "A", operations: years(5), request: calls[0].body.request });
    calls[1].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(calls[2].body).toMatchObject({ label: "B", operations: years(6), revision: 2 });
  });

  it("sends a drag that is cut off by a closing page", async () => {
    editor.draft({ gesture: "g", label: "Drag", operations: years(9) });
    editor.flush();
    await settle();
    expect(calls[0].body).toMatchObject({ revision: 1, operations: years(9) });
  });

  it("keeps in this browser what cannot be sent before the page is gone, and sends it when it is back", async () => {
    editor.commit("A", years(5));
    await settle();
    editor.draft({ gesture: "g", label: "Drag", operations: years(9) });
    editor.flush();
    const next = setUpAgain();
    await next.resume();
    await settle();
    // The first may have arrived, its answer never came: it is asked for again by the same id.
    expect(calls[1].body).toMatchObject({ label: "A", request: calls[0].body.request });
    calls[1].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(calls[2].body).toMatchObject({ label: "Drag", operations: years(9), revision: 2 });
    calls[2].answer(200, state(3, { ...documentNow, years: 9 }));
    await settle();
    expect(localStorage).toHaveLength(0);
    expect(useView.getState().notice?.text).toBe("Kept from before the page was closed: 2 changes.");
  });

  it("has in this browser whatever is not acknowledged, from the moment it is made", async () => {
    editor.commit("A", years(5));
    editor.commit("B", years(6));
    const kept = () =>
      Object.values({ ...localStorage }).flatMap((one) => JSON.parse(one as string)) as { label: string }[];
    expect(kept().map((one) => one.label)).toEqual(["A", "B"]);
    await settle();
    calls[0].answer(200, state(2, { ...documentNow, years: 5 }));
    await settle();
    expect(kept().map((one) => one.label)).toEqual(["B"]);
    // The server is away, the tab is closed without a word.
    calls[1].answer(503, {});
    await settle();
    expect(kept().map((one) => one.label)).toEqual(["B"]);
  });

  it("asks again by the same id, for undo too", async () => {
    vi.useFakeTimers({ toFake: ["setTimeout"] });
    const run = () => vi.advanceTimersByTimeAsync(3100);
    editor.commit("A", years(5));
    await run();
    calls[0].answer(503, {});
    await run();
    expect(calls[1].body.request).toBe(calls[0].body.request);
    calls[1].answer(200, state(2, { ...documentNow, years: 5 }));
    editor.step(true);
    await run();
    calls[2].answer(503, {});
    await run();
    expect(calls[3].body.request).toBe(calls[2].body.request);
    expect(calls[2].body.request).not.toBe(calls[1].body.request);
    vi.useRealTimers();
  });

  it("goes on where the browser keeps nothing, and takes what an earlier version left", async () => {
    localStorage.setItem("cenote-unsent-s", JSON.stringify({ label: "Old", gesture: "", operations: years(3) }));
    localStorage.setItem("cenote-unsent-s-broken", "{");
    const next = setUpAgain();
    const full = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    await next.resume();
    await settle();
    expect(calls[0].body).toMatchObject({ label: "Old", operations: years(3) });
    expect(calls[0].body.request).toBeTruthy();
    full.mockRestore();
  });

  it("says that it saves while an undo is on its way", async () => {
    editor.step(true);
    expect(useView.getState().saving).toBe("saving");
    await settle();
    calls[0].answer(200, state(2, documentNow));
    await settle();
    expect(useView.getState().saving).toBe("saved");
  });

  it("leaves alone what another page that lives has not sent yet", async () => {
    localStorage.setItem(
      "cenote-unsent-s-other",
      JSON.stringify([{ label: "Theirs", gesture: "", operations: years(3) }]),
    );
    vi.stubGlobal("navigator", {
      locks: { request: () => Promise.resolve(), query: async () => ({ held: [{ name: "cenote-unsent-s-other" }] }) },
    });
    const next = setUpAgain();
    await next.resume();
    await settle();
    expect(calls).toHaveLength(0);
    expect(localStorage.getItem("cenote-unsent-s-other")).toBeTruthy();
    vi.unstubAllGlobals();
  });

  function setUpAgain() {
    useView.getState().set({ draft: null });
    return new Editor("s", queries);
  }
});
