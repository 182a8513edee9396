import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { inWords } from "../api/client";
import { isGoing, JobProgress } from "../jobs/JobProgress";
import { useDocument } from "../site/context";
import { type FileFormat, FORMATS, stepsOf, useWriting } from "./finishes";
import type { Still } from "./stills";

/** Writes a still, as its shot's finish has it, to a file. */
export function WriteStill({ still }: { still: Still }) {
  const document = useDocument();
  const { format, setFormat, start, job } = useWriting(still, stepsOf(document, still.shot));
  return (
    <>
      <TextField
        select
        label="File"
        value={format}
        onChange={(event) => setFormat(event.target.value as FileFormat)}
        sx={{ width: 140 }}
      >
        {FORMATS.map((one) => (
          <MenuItem key={one.format} value={one.format}>
            {one.label}
          </MenuItem>
        ))}
      </TextField>
      <Button disabled={isGoing(job) || start.isPending} onClick={() => start.mutate()}>
        Write it
      </Button>
      {start.isError && <Alert severity="error">{inWords(start.error)}</Alert>}
      {job && <JobProgress job={job} />}
    </>
  );
}
