import { useMutation } from "@tanstack/react-query";
import type { JobState } from "../api/client";
import { useView } from "../site/store";

/** Start some work on a press and follow it: the mutation that starts it, and the job as it is now. */
export function useStartedJob(begin: () => Promise<JobState>) {
  const start = useMutation({ mutationFn: begin, onSuccess: (job) => useView.getState().setJob(job) });
  const job = useView((state) => (start.data ? (state.jobs[start.data.id] ?? start.data) : null));
  return { start, job };
}
