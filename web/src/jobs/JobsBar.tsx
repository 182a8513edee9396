import Box from "@mui/material/Box";
import { useJobs } from "../api/jobs";
import { useSiteContext } from "../site/context";
import { isGoing, JobProgress } from "./JobProgress";

/** Long work that is going on: how far it is, and a way to stop it. */
export function JobsBar() {
  const jobs = useJobs(useSiteContext().siteId);
  const going = Object.values(jobs).filter(isGoing);
  if (!going.length) return null;
  // What has time waits for the rest, one after another, and says what the rest says.
  const pressing = going.filter((job) => !job.patient);
  const patient = going.find((job) => job.state === "running") ?? going[0];
  return (
    <Box role="status" aria-label="Work going on" sx={{ display: "flex", gap: 2, minWidth: 0, overflow: "hidden" }}>
      {(pressing.length ? pressing : [patient]).map((job) => (
        <JobProgress key={job.id} job={job} />
      ))}
    </Box>
  );
}
