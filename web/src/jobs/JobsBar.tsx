import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { client, unwrap } from "../api/client";
import { useView } from "../site/store";
import { colours } from "../theme/theme";

/** Long work that is going on: how far it is, and a way to stop it. */
export function JobsBar() {
  const jobs = useView((state) => state.jobs);
  const going = Object.values(jobs).filter((job) => job.state === "waiting" || job.state === "running");
  if (!going.length) return null;
  // What has time waits for the rest, and says what the rest says.
  const pressing = going.filter((job) => !job.patient);
  return (
    <Box role="status" aria-label="Work going on" sx={{ display: "flex", gap: 2 }}>
      {(pressing.length ? pressing : going).map((job) => (
        <Box key={job.id} sx={{ display: "flex", alignItems: "center", gap: 1 }}>
          <Box sx={{ width: 220 }}>
            <Typography variant="caption" noWrap component="div" sx={{ lineHeight: 1.3 }}>
              {job.title}
              {job.doing ? `: ${job.doing}` : " …"}
              {job.total > 0 && ` (${job.total - job.done} to go)`}
            </Typography>
            <LinearProgress
              variant={job.total ? "determinate" : "indeterminate"}
              value={job.total ? (job.done / job.total) * 100 : 0}
              sx={{ background: colours.rule }}
            />
          </Box>
          <Button
            onClick={() =>
              void unwrap(client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: job.id } } })).catch(
                () => undefined,
              )
            }
          >
            Stop
          </Button>
        </Box>
      ))}
    </Box>
  );
}
