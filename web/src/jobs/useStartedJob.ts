import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { JobState } from "../api/client";
import { noteJob, useJobs } from "../api/jobs";
import { useSiteContext } from "../site/context";

/** Start some work on a press and follow it: the mutation that starts it, and the job as it is now. */
export function useStartedJob(begin: () => Promise<JobState>) {
  const { siteId } = useSiteContext();
  const queries = useQueryClient();
  const jobs = useJobs(siteId);
  const start = useMutation({ mutationFn: begin, onSuccess: (job) => noteJob(queries, siteId, job) });
  return { start, job: start.data ? (jobs[start.data.id] ?? start.data) : null };
}
