import type { QueryClient } from "@tanstack/react-query";
import { changeHeaders, client, type Operation, Problem, type SiteState, unwrap } from "../api/client";
import { applyOperations } from "./patch";
import { type Draft, useView } from "./store";

const AUTOSAVE = 1000;
const RETRY = 3000;

interface Edit {
  label: string;
  gesture: string;
  operations: Operation[];
}

/** An undo or redo that waits for its turn. */
interface Step {
  back: boolean;
}

/** Several edits as one. */
function asOne(edits: Edit[]): Edit {
  return { ...edits[edits.length - 1], operations: edits.flatMap((one) => one.operations) };
}

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
  private timer: number | undefined;
  private savedDraft = "";

  constructor(
    private readonly siteId: string,
    private readonly queries: QueryClient,
  ) {}

  private get key() {
    return ["site", this.siteId];
  }

  state(): SiteState | undefined {
    return this.queries.getQueryData<SiteState>(this.key);
  }

  /** Make a change that is complete. */
  commit(label: string, operations: Operation[], gesture = "") {
    this.enqueue({ label, gesture, operations });
  }

  /** Show a change that is still being made; {@link settle} ends it. */
  draft(draft: Draft) {
    useView.getState().set({ draft });
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
  }

  private saveDraft() {
    const { draft } = useView.getState();
    if (!draft) return;
    const text = JSON.stringify(draft);
    if (text === this.savedDraft) return;
    this.savedDraft = text;
    this.enqueue({ ...draft });
  }

  private enqueue(edit: Edit) {
    const last = this.queue[this.queue.length - 1];
    const waits = this.queue.length > 1 || !this.sending;
    // Of one gesture's values that still wait, the latest is enough.
    if (last && isEdit(last) && edit.gesture && last.gesture === edit.gesture && waits) this.queue.pop();
    this.queue.push(edit);
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
      if (!state || useView.getState().conflict) break;
      try {
        const made = await this.request(next, state.revision);
        this.queue.shift();
        // What was changed here while the answer was on its way stays on top of it.
        const document = this.edits.reduce((doc, later) => applyOperations(doc, later.operations), made.document);
        this.queries.setQueryData<SiteState>(this.key, { ...made, document });
        useView.getState().set({ saving: this.queue.length ? "saving" : "saved" });
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
    const body = { revision };
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
      this.keep(this.edits);
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
      set({ notice: { text: problem.message, tone: "info" }, saving: this.queue.length ? "saving" : "saved" });
      await this.refetch();
      return false;
    }
    if (problem.status === 409) {
      set({ conflict: { message: problem.message, ...next }, saving: "waiting" });
      return true;
    }
    this.queue.shift();
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
    await this.queries.refetchQueries({ queryKey: this.key });
    const state = this.state();
    if (state && this.queue.length)
      this.queries.setQueryData<SiteState>(this.key, {
        ...state,
        document: this.edits.reduce((doc, later) => applyOperations(doc, later.operations), state.document),
      });
  }

  /** Fetch what the server has. */
  async refresh() {
    await this.queries.invalidateQueries({ queryKey: this.key });
  }

  /** After a conflict: show the newest state, and put the refused changes on top of it if they are wanted. */
  async resolveConflict(again: boolean) {
    const kept = again ? this.edits : [];
    this.queue = [];
    useView.getState().set({ conflict: null, draft: null, saving: kept.length ? "saving" : "saved" });
    await this.queries.refetchQueries({ queryKey: this.key });
    for (const edit of kept) this.enqueue(edit);
  }

  /** Undo or redo; one that is asked for while others are on their way waits for its turn. */
  step(back: boolean) {
    if (useView.getState().draft) this.settle();
    this.queue.push({ back });
    void this.send();
  }

  /** Resolves once all that was done so far is saved. */
  async idle(): Promise<void> {
    while (this.busy) await new Promise((resolve) => window.setTimeout(resolve, 30));
  }

  /** Whether anything is not saved yet. */
  get busy() {
    return this.sending || this.queue.length > 0;
  }

  /** The page goes away: send what is not saved in a request that outlives it, or keep it in this browser. */
  flush() {
    const { draft, conflict } = useView.getState();
    const state = this.state();
    const waiting = (this.sending ? this.queue.slice(1) : this.queue).filter(isEdit);
    if (draft && JSON.stringify(draft) !== this.savedDraft) waiting.push({ ...draft });
    if (!state || !waiting.length || conflict) return;
    this.queue = [];
    // While a request is on its way, the revision to build on is not known.
    if (this.sending) return this.keep(waiting);
    void fetch(`/api/sites/${this.siteId}/edits`, {
      method: "POST",
      keepalive: true,
      credentials: "same-origin",
      headers: { "Content-Type": "application/json", ...changeHeaders() },
      body: JSON.stringify({ revision: state.revision, ...asOne(waiting) }),
    });
  }

  /** Keep edits in this browser until {@link resume}. */
  private keep(edits: Edit[]) {
    if (edits.length) localStorage.setItem(this.keptName, JSON.stringify(asOne(edits)));
  }

  private get keptName() {
    return `cenote-unsent-${this.siteId}`;
  }

  /** Send what a page that went away has left in this browser. */
  resume() {
    const kept = localStorage.getItem(this.keptName);
    if (!kept) return;
    localStorage.removeItem(this.keptName);
    const edit = JSON.parse(kept) as Edit;
    this.enqueue(edit);
    useView.getState().set({ notice: { text: `Kept from before the page was closed: ${edit.label}.`, tone: "info" } });
  }
}
