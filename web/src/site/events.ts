import type { QueryClient } from "@tanstack/react-query";
import type { JobState, SiteState } from "../api/client";
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

/** Follow what happens to a site elsewhere: other tabs' changes, and the progress of jobs. Returns how to stop. */
export function followSite(siteId: string, queries: QueryClient, editor: Editor): () => void {
  const source = new EventSource(`/api/sites/${siteId}/events`);
  let connected = false;
  source.onmessage = (message) => {
    const event = JSON.parse(message.data as string) as SiteEvent;
    const view = useView.getState();
    if (event.type === "connected") {
      // After a break in the line, what was missed is read once.
      if (connected && !editor.busy) void editor.refresh();
      connected = true;
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
      view.setJob(event.job);
      if (event.job.kind === "measure" && event.job.state === "done") {
        void queries.invalidateQueries({ queryKey: ["scene", siteId] });
        void queries.invalidateQueries({ queryKey: ["where", siteId] });
      }
      if (event.job.result.file) void queries.invalidateQueries({ queryKey: ["files", siteId] });
      if (event.job.kind === "drop") dropEnded(event.job, editor);
      if (event.job.kind === "inspect") void queries.invalidateQueries({ queryKey: ["import", siteId] });
    } else if (event.type === "thumbnail") {
      void queries.invalidateQueries({ queryKey: ["sites"] });
    }
  };
  return () => source.close();
}
