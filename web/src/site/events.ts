import type { QueryClient } from "@tanstack/react-query";
import { client, type JobState, type SiteState, unwrap } from "../api/client";
import { jobsNow, noteJob } from "../api/jobs";
import type { Editor } from "./editor";
import { useView } from "./store";

interface SiteEvent {
  type: "connected" | "changed" | "job" | "thumbnail";
  revision?: number;
  label?: string;
  job?: JobState;
}

/** What fell is at rest, or could not fall: show it, or say why. */
function dropEnded(job: JobState, editor: Editor) {
  const { set, pick } = useView.getState();
  if (job.state === "failed") set({ notice: { text: job.message, tone: "error" } });
  if (job.state !== "done") return;
  // What is being edited here comes first; the heap is already on the site.
  void editor.idle().then(async () => {
    await editor.refresh();
    set({ notice: { text: job.message, tone: "info" } });
    pick({ part: "structures", id: job.result.heap as string });
  });
}

// Milliseconds until a line that was refused is tried again: doubled each time, up to a most.
const FIRST_WAIT = 1000;
const LONGEST_WAIT = 30_000;

/** Follow what happens to a site elsewhere: other tabs' changes, and the progress of jobs. Returns how to stop. */
export function followSite(siteId: string, queries: QueryClient, editor: Editor): () => void {
  let source: EventSource;
  let retry: number | undefined;
  let wait = FIRST_WAIT;
  let connected = false;

  function jobTold(job: JobState) {
    noteJob(queries, siteId, job);
    if ((job.kind === "measure" || job.kind === "prepare") && job.state === "done") {
      void queries.invalidateQueries({ queryKey: ["scene", siteId] });
      void queries.invalidateQueries({ queryKey: ["where", siteId] });
    }
    if (job.result.file) void queries.invalidateQueries({ queryKey: ["files", siteId] });
    if (job.kind === "still" && job.state !== "running")
      void queries.invalidateQueries({ queryKey: ["stills", siteId] });
    if (job.kind === "drop") dropEnded(job, editor);
    if (job.kind === "inspect") void queries.invalidateQueries({ queryKey: ["import", siteId] });
  }

  /** After a break in the line, what was missed is read once: the newest state, and how far jobs have come. */
  function catchUp() {
    if (!editor.busy) void editor.refresh();
    for (const job of Object.values(jobsNow(queries, siteId))) {
      if (job.state !== "waiting" && job.state !== "running") continue;
      void unwrap(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } })).then(
        jobTold,
        () => undefined,
      );
    }
  }

  function hear(message: MessageEvent) {
    const event = JSON.parse(message.data as string) as SiteEvent;
    const view = useView.getState();
    if (event.type === "connected") {
      if (connected) catchUp();
      connected = true;
      wait = FIRST_WAIT;
    } else if (event.type === "changed") {
      const state = queries.getQueryData<SiteState>(["site", siteId]);
      // Our own changes come back here too, while their answer is still on its way or after it has come.
      if (!state || editor.busy || (event.revision ?? 0) <= state.revision) return;
      if (view.draft) {
        view.set({
          notice: {
            text: `Changed elsewhere: ${event.label}. You are told before anything is overwritten.`,
            tone: "info",
          },
        });
      } else {
        void editor.refresh();
        view.set({ notice: { text: `Changed elsewhere: ${event.label}. This is the newest state.`, tone: "info" } });
      }
    } else if (event.type === "job" && event.job) {
      jobTold(event.job);
    } else if (event.type === "thumbnail") {
      void queries.invalidateQueries({ queryKey: ["sites"] });
      void queries.invalidateQueries({ queryKey: ["shot pictures", siteId] });
    }
  }

  function open() {
    source = new EventSource(`/api/sites/${siteId}/events`);
    source.onmessage = hear;
    source.onerror = () => {
      // A line that breaks is taken up again by the browser; one that was answered with a refusal is not.
      if (source.readyState !== EventSource.CLOSED) return;
      source.close();
      retry = window.setTimeout(open, wait);
      wait = Math.min(2 * wait, LONGEST_WAIT);
      // Perhaps nobody is signed in any more.
      void queries.invalidateQueries({ queryKey: ["session"] });
    };
  }

  open();
  return () => {
    window.clearTimeout(retry);
    source.close();
  };
}
