import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, type JobState, type Schemas, type Shot, unwrap } from "../api/client";
import { noteJob, useJobs } from "../api/jobs";
import { isGoing } from "../jobs/JobProgress";
import { ratioOf } from "../view/lens";

/** A still as the page shows it: with the work on it as it was last heard of, and its newest picture. */
export interface Still extends StillState {
  going: boolean;
}
type StillState = Schemas["StillState"];
/** Left, top, right and bottom of a part of a picture, in shares of its sides. */
export type Region = number[];

/** What a still can be: its width in pixels, and paths of light for each of them. */
export const WIDTHS = [640, 1280, 1920, 2560, 3840, 7680];
export const SAMPLES = [16, 64, 256, 1024, 4096];
/** How many other workers a still may be shared with. */
export const SHARERS = [0, 1, 3, 7, 15];
/** A test: small, and soon there. */
export const TEST = { width: WIDTHS[0], samples: 4 };

/** How high a picture of a shot is that is so wide. */
export const heightOf = (shot: Pick<Shot, "frame">, width: number) => Math.round(width / ratioOf(shot.frame));

/** A still with what was told of its work since it was read. */
export function withJob(still: StillState, jobs: Record<string, JobState>): Still {
  const job = still.job && (jobs[still.job.id] ?? still.job);
  const { picture } = (job?.result ?? {}) as { picture?: string };
  return { ...still, job, going: isGoing(job), picture: picture || still.picture };
}

/** Where a still's picture is: another place for each, so that a browser may keep it. */
export const pictureOf = ({ id, picture }: Pick<Still, "id" | "picture">) =>
  `/api/stills/${id}/picture?of=${encodeURIComponent(picture)}`;

/** The part of a picture between two places on it, in shares of its sides; null where it is too small to be meant. */
export function regionBetween(from: [number, number], to: [number, number]): Region | null {
  const [left, right] = [from[0], to[0]].sort((a, b) => a - b).map((at) => Math.min(1, Math.max(0, at)));
  const [top, bottom] = [from[1], to[1]].sort((a, b) => a - b).map((at) => Math.min(1, Math.max(0, at)));
  return right - left < 0.02 || bottom - top < 0.02 ? null : [left, top, right, bottom];
}

const stillsQuery = (siteId: string) =>
  queryOptions({
    queryKey: ["stills", siteId],
    queryFn: () => unwrap(client.GET("/api/sites/{site_id}/stills", { params: { path: { site_id: siteId } } })),
  });

/** The stills of a site, newest first. */
export function useStills(siteId: string) {
  const jobs = useJobs(siteId);
  const query = useQuery(stillsQuery(siteId));
  return { ...query, stills: (query.data ?? []).map((still) => withJob(still, jobs)) };
}

/** What can be done with stills: each by a request, after which the list is read again. */
export function useStillActions(siteId: string) {
  const queries = useQueryClient();
  const onSettled = () => queries.invalidateQueries({ queryKey: ["stills", siteId] });
  const begun = (still: StillState) => {
    if (still.job) noteJob(queries, siteId, still.job);
  };
  const path = (still_id: string) => ({ params: { path: { still_id } } });
  return {
    take: useMutation({
      mutationFn: (body: Schemas["StillRequest"]) =>
        unwrap(client.POST("/api/sites/{site_id}/stills", { params: { path: { site_id: siteId } }, body })),
      onSuccess: begun,
      onSettled,
    }),
    goOn: useMutation({
      mutationFn: ({ id, samples }: { id: string; samples: number }) =>
        unwrap(client.POST("/api/stills/{still_id}/more", { ...path(id), body: { samples } })),
      onSuccess: begun,
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (id: string) => unwrap(client.DELETE("/api/stills/{still_id}", path(id))),
      onSettled,
    }),
    restore: useMutation({
      mutationFn: (id: string) => unwrap(client.POST("/api/stills/{still_id}/restore", path(id))),
    }),
  };
}
