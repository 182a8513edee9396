import type { QueryClient } from "@tanstack/react-query";
import { changeHeaders, client, type JobState, type Operation, Problem, type SiteState, unwrap } from "../api/client";
import { noteJob } from "../api/jobs";
import { readSite, unanswered } from "../api/queries";
import { applyOperations } from "./patch";
import { type Draft, useView } from "./store";

const AUTOSAVE = 1000;
const RETRY = 3000;
/** How often a change that is wanted on top is sent again before its author is asked again. */
const INSISTS = 5;

interface Edit {
  label: string;
  gesture: string;
  operations: Operation[];
  /** Tells it from others, so that the server does not apply it again where its answer was lost. */
  request: string;
}

/** An undo or redo that waits for its turn. */
interface Step {
  back: boolean;
  request: string;
}

/** What a page leaves in this browser lies under names that begin so, and end in the page's own. */
const UNSENT = "cenote-unsent-";

const isEdit = (one: Edit | Step): one is Edit => "operations" in one;

/**
 * Sends edits to the server one after another, each on top of the revision that the one before it gave.
 *
 * A drag is a draft that is shown at once and saved every so often under one gesture, so that a crash in the middle of
 * it loses nothing and the whole drag is one step to undo. What cannot be sent is kept and tried again.
 */
export class Editor {
  private queue: (Edit | Step)[] = [];
  private sending = false;
  /** While it is read what a conflict is about, nothing is sent: it would be refused for the same reason. */
  private resolving = false;
  private timer: number | undefined;
  private savedDraft = "";
  /** Edits that are wanted on top of whatever is newest, and how often that may still be tried. */
  private readonly insisting = new Map<string, number>();
  /** Where what is not acknowledged lies in this browser: of this page alone, for two may show one site. */
  private readonly keptName: string;
  private letGo = () => {};

  constructor(
    private readonly siteId: string,
    private readonly queries: QueryClient,
  ) {
    this.keptName = `${UNSENT}${siteId}-${crypto.randomUUID()}`;
    // Held as long as the page lives: what lies under a name that is held is no business of others.
    void navigator.locks?.request(this.keptName, () => new Promise<void>((resolve) => (this.letGo = resolve)));
  }

  private get key() {
    return ["site", this.siteId];
  }

  state(): SiteState | undefined {
    return this.queries.getQueryData<SiteState>(this.key);
  }

  /** Make a change that is complete. */
  commit(label: string, operations: Operation[], gesture = "") {
    this.enqueue({ label, gesture, operations, request: crypto.randomUUID() });
  }

  /** Show a change that is still being made; {@link settle} ends it. */
  draft(draft: Draft) {
    // What is still being made is not saved yet.
    const { saving, set } = useView.getState();
    set({ draft, saving: saving === "saved" ? "saving" : saving });
    this.timer ??= window.setTimeout(() => {
      this.timer = undefined;
      this.saveDraft();
    }, AUTOSAVE);
  }

  /** End the draft: save it and take it as made. */
  settle() {
    window.clearTimeout(this.timer);
    this.timer = undefined;
    this.saveDraft();
    useView.getState().set({ draft: null });
    if (useView.getState().saving === "saving") useView.getState().set({ saving: this.progress });
  }

  /** How far saving has come where nothing stands in its way. */
  private get progress() {
    const { draft } = useView.getState();
    const unsaved = draft !== null && JSON.stringify(draft) !== this.savedDraft;
    return this.queue.length || unsaved ? "saving" : "saved";
  }

  private saveDraft() {
    const { draft } = useView.getState();
    if (!draft) return;
    const text = JSON.stringify(draft);
    if (text === this.savedDraft) return;
    this.savedDraft = text;
    this.enqueue({ ...draft, request: crypto.randomUUID() });
  }

  private enqueue(edit: Edit) {
    const last = this.queue[this.queue.length - 1];
    const waits = this.queue.length > 1 || !this.sending;
    // Of one gesture's values that still wait, the latest is enough.
    if (last && isEdit(last) && edit.gesture && last.gesture === edit.gesture && waits) this.queue.pop();
    this.queue.push(edit);
    this.keep();
    const state = this.state();
    if (state) {
      this.queries.setQueryData<SiteState>(this.key, {
        ...state,
        document: applyOperations(state.document, edit.operations),
      });
    }
    useView.getState().set({ saving: "saving" });
    void this.send();
  }

  private async send() {
    if (this.sending) return;
    this.sending = true;
    while (this.queue.length) {
      const next = this.queue[0];
      const state = this.state();
      if (!state || this.resolving || useView.getState().conflict) break;
      try {
        const made = await this.request(next, state.revision);
        this.queue.shift();
        this.keep();
        // What was changed here while the answer was on its way stays on top of it.
        const document = this.edits.reduce((doc, later) => applyOperations(doc, later.operations), made.document);
        this.queries.setQueryData<SiteState>(this.key, { ...made, document });
        useView.getState().set({ saving: this.progress });
      } catch (error) {
        if (await this.failed(next, error instanceof Problem ? error : new Problem(String(error), 0))) break;
      }
    }
    this.sending = false;
  }

  private async request(next: Edit | Step, revision: number): Promise<SiteState> {
    const params = { path: { site_id: this.siteId } };
    if (isEdit(next))
      return (await unwrap<unknown>(
        client.POST("/api/sites/{site_id}/edits", { params, body: { revision, ...next } }),
      )) as SiteState;
    const body = { revision, request: next.request };
    return (await unwrap<unknown>(
      next.back
        ? client.POST("/api/sites/{site_id}/undo", { params, body })
        : client.POST("/api/sites/{site_id}/redo", { params, body }),
    )) as SiteState;
  }

  /** Deal with a request that did not go through; says whether sending stops for now. */
  private async failed(next: Edit | Step, problem: Problem): Promise<boolean> {
    const { set } = useView.getState();
    if (problem.status === 401) {
      // The page for signing in takes the place of this one; what is not sent waits in this browser until then.
      this.queue = [];
      void this.queries.invalidateQueries({ queryKey: ["session"] });
      return true;
    }
    if (problem.status === 0 || problem.status >= 500) {
      // It keeps its place in the queue: an undo that meets a server that is away is not lost either.
      set({ notice: { text: problem.message, tone: "error" }, saving: "waiting" });
      window.setTimeout(() => void this.send(), RETRY);
      return true;
    }
    if (!isEdit(next)) {
      this.queue.shift();
      this.keep();
      set({ notice: { text: problem.message, tone: "info" }, saving: this.queue.length ? "saving" : "saved" });
      await this.refetch();
      return false;
    }
    const left = this.insisting.get(next.request) ?? 0;
    if (problem.status === 409 && left > 0) {
      // "On top of the newest" holds for what has become the newest meanwhile as well.
      this.insisting.set(next.request, left - 1);
      await this.refetch();
      return false;
    }
    if (problem.status === 409) {
      set({ conflict: { message: problem.message, ...next }, saving: "waiting" });
      return true;
    }
    this.queue.shift();
    this.keep();
    const fields = problem.fields.map((field) => `${field.field}: ${field.message}`).join(" ");
    set({
      notice: { text: `${problem.message} ${fields}`, tone: "error" },
      saving: this.queue.length ? "saving" : "saved",
    });
    await this.refetch();
    return false;
  }

  /** The edits that wait or are on their way. */
  private get edits(): Edit[] {
    return this.queue.filter(isEdit);
  }

  /** Fetch what the server has, and put what still waits on top of it. */
  private async refetch() {
    const state = await readSite(this.siteId).catch(() => undefined);
    if (!state) return;
    const document = this.edits.reduce((doc, later) => applyOperations(doc, later.operations), state.document);
    this.queries.setQueryData<SiteState>(this.key, { ...state, document });
  }

  /** Fetch what the server has. */
  async refresh() {
    await this.queries.invalidateQueries({ queryKey: this.key });
  }

  /** After a conflict: show the newest state, and put the refused changes on top of it if they are wanted. */
  async resolveConflict(again: boolean) {
    this.queue = again ? this.edits : [];
    this.keep();
    this.insisting.clear();
    for (const { request } of this.edits) this.insisting.set(request, INSISTS);
    useView.getState().set({ conflict: null, draft: null, saving: this.queue.length ? "saving" : "saved" });
    this.resolving = true;
    await this.refetch();
    this.resolving = false;
    void this.send();
  }

  /** Undo or redo; one that is asked for while others are on their way waits for its turn. */
  step(back: boolean) {
    if (useView.getState().draft) this.settle();
    this.queue.push({ back, request: crypto.randomUUID() });
    useView.getState().set({ saving: "saving" });
    void this.send();
  }

  /** Have it known how far some work for this site has come. */
  noteJob(job: JobState) {
    noteJob(this.queries, this.siteId, job);
  }

  /** Resolves once all that was done so far is saved. */
  async idle(): Promise<void> {
    while (this.busy) await new Promise((resolve) => window.setTimeout(resolve, 30));
  }

  /** Whether anything is not saved yet. */
  get busy() {
    return this.sending || this.queue.length > 0;
  }

  /**
   * The page goes away: send what is not saved in a request that outlives it. It lies in this browser until it is
   * acknowledged, and the next page sends it again: the server knows it by its id.
   */
  flush() {
    const { draft, conflict } = useView.getState();
    const state = this.state();
    const text = JSON.stringify(draft);
    if (draft && text !== this.savedDraft) {
      this.savedDraft = text;
      this.queue.push({ ...draft, request: crypto.randomUUID() });
      this.keep();
    }
    const [next] = this.edits;
    // While a request is on its way, the revision to build on is not known.
    if (!state || !next || conflict || this.sending) return;
    void fetch(`/api/sites/${this.siteId}/edits`, {
      method: "POST",
      keepalive: true,
      credentials: "same-origin",
      headers: { "Content-Type": "application/json", ...changeHeaders() },
      body: JSON.stringify({ revision: state.revision, ...next }),
    });
  }

  /** The site is left: as {@link flush}, and what is not acknowledged yet is for whoever opens it next. */
  leave() {
    this.flush();
    this.letGo();
    unanswered.delete(this.siteId);
  }

  /** Have in this browser what is not acknowledged, as it is now. */
  private keep() {
    const { edits } = this;
    if (edits.length) unanswered.add(this.siteId);
    else unanswered.delete(this.siteId);
    try {
      if (edits.length) localStorage.setItem(this.keptName, JSON.stringify(edits));
      else localStorage.removeItem(this.keptName);
    } catch {
      // A browser without room, or that keeps nothing: the edits are in this page still, and on their way.
    }
  }

  /** Send what pages that went away have left in this browser, the oldest first. */
  async resume() {
    const held = new Set((await navigator.locks?.query())?.held?.map((lock) => lock.name));
    const left: Edit[] = [];
    const taken: string[] = [];
    for (const name of Object.keys(localStorage).filter((one) => one.startsWith(`${UNSENT}${this.siteId}`))) {
      if (name === this.keptName || held.has(name)) continue;
      left.push(...readEdits(localStorage.getItem(name)!));
      taken.push(name);
    }
    for (const edit of left) this.enqueue(edit);
    // Only now that they lie under this page's name.
    for (const name of taken) localStorage.removeItem(name);
    if (!left.length) return;
    const what = left.length > 1 ? `${left.length} changes` : left[0].label;
    useView.getState().set({ notice: { text: `Kept from before the page was closed: ${what}.`, tone: "info" } });
  }
}

/** Edits as they were left in the browser; earlier versions left a single one, without an id. */
function readEdits(text: string): Edit[] {
  try {
    const found = JSON.parse(text) as Edit | Edit[];
    return (Array.isArray(found) ? found : [found]).map((one) => ({
      ...one,
      request: one.request ?? crypto.randomUUID(),
    }));
  } catch {
    return [];
  }
}
