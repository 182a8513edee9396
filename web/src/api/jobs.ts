import { type QueryClient, queryOptions, useQuery } from "@tanstack/react-query";
import { client, type JobState, unwrap } from "./client";

/** Long work of a site by id, as it was last heard of. */
export type Jobs = Record<string, JobState>;

const hasEnded = ({ state }: JobState) => state !== "waiting" && state !== "running";

/** The long work of a site: read once, and then as the server tells of it. */
const jobsQuery = (queries: QueryClient, siteId: string) =>
  queryOptions({
    queryKey: ["jobs", siteId],
    queryFn: async (): Promise<Jobs> => {
      const read = await unwrap(client.GET("/api/sites/{site_id}/jobs", { params: { path: { site_id: siteId } } }));
      // What was told of meanwhile may be newer: what has ended stays so.
      const told = jobsNow(queries, siteId);
      const newer = Object.fromEntries(Object.entries(told).filter(([, job]) => hasEnded(job)));
      return { ...told, ...Object.fromEntries(read.map((job) => [job.id, job])), ...newer };
    },
    staleTime: Infinity,
  });

/** What is known of the work of a site. */
export const jobsNow = (queries: QueryClient, siteId: string): Jobs =>
  queries.getQueryData<Jobs>(["jobs", siteId]) ?? {};

/** Have it known how far some work has come. */
export const noteJob = (queries: QueryClient, siteId: string, job: JobState) =>
  queries.setQueryData<Jobs>(["jobs", siteId], (known) => ({ ...known, [job.id]: job }));

/** Read what work there is for a site that is opened. */
export const readJobs = (queries: QueryClient, siteId: string) =>
  queries.fetchQuery({ ...jobsQuery(queries, siteId), staleTime: 0 }).catch(() => undefined);

/** The long work of a site. */
export function useJobs(siteId: string): Jobs {
  return useQuery<Jobs>({ queryKey: ["jobs", siteId], enabled: false, initialData: {} }).data;
}
