import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { client, type JobState, unwrap } from "../api/client";
import { colours } from "../theme/theme";

/** Whether work is still to be done. */
export const isGoing = (job?: JobState | null): boolean => job?.state === "waiting" || job?.state === "running";

/** Ask for the end of some work; what cannot be reached is heard of by its own words. */
const stop = (job: JobState) =>
  void unwrap(client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: job.id } } })).catch(
    () => undefined,
  );

/** How far some work has come, how much is left, a way to stop it, and how it ended: the same for every long task. */
export function JobProgress({ job, what }: { job: JobState; what?: string }) {
  if (isGoing(job))
    return (
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Box sx={{ flex: 1, minWidth: 180 }}>
          <Typography variant="caption" noWrap component="div" sx={{ lineHeight: 1.3 }}>
            {what ?? job.title}
            {job.doing ? `: ${job.doing}` : " …"}
            {job.total > 0 && ` (${job.total - job.done} to go)`}
          </Typography>
          <LinearProgress
            aria-label={what ?? job.title}
            variant={job.total ? "determinate" : "indeterminate"}
            value={job.total ? (job.done / job.total) * 100 : 0}
            sx={{ background: colours.rule }}
          />
        </Box>
        <Button onClick={() => stop(job)}>Stop</Button>
      </Box>
    );
  if (job.state === "done")
    return job.result.file ? (
      <Alert severity="success" action={<Button href={`/api/jobs/${job.id}/file`}>Fetch the file</Button>}>
        Written: {(Number(job.result.bytes) / 1e6).toFixed(1)} MB.
      </Alert>
    ) : null;
  return <Alert severity={job.state === "failed" ? "error" : "info"}>{job.message}</Alert>;
}
