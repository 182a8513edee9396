import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { client, unwrap } from "../api/client";
import { isGoing, JobProgress } from "../jobs/JobProgress";
import { useStartedJob } from "../jobs/useStartedJob";
import { useSiteContext } from "../site/context";

/** Write the dressed site as GLB, and fetch the file. */
export function ExportDialog({ onClose }: { onClose: () => void }) {
  const { siteId } = useSiteContext();
  const [manner, setManner] = useState<"instanced" | "merged">("instanced");
  const [texel, setTexel] = useState(0.025);
  const { start, job } = useStartedJob(() =>
    unwrap(
      client.POST("/api/sites/{site_id}/exports", { params: { path: { site_id: siteId } }, body: { manner, texel } }),
    ),
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Export as GLB</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.5 }}>
        <RadioGroup
          value={manner}
          onChange={(event) => setManner(event.target.value as typeof manner)}
          aria-label="How plants are written"
        >
          <FormControlLabel
            value="instanced"
            control={<Radio size="small" />}
            label="Instanced: each plant's mesh once and a table of places. Small; the reader must know EXT_mesh_gpu_instancing."
          />
          <FormControlLabel
            value="merged"
            control={<Radio size="small" />}
            label="Merged: every copy written out. Larger by far; any reader of glTF 2.0 shows it."
          />
        </RadioGroup>
        <TextField
          select
          label="Texels of the composed maps"
          value={texel}
          onChange={(event) => setTexel(Number(event.target.value))}
        >
          <MenuItem value={0.1}>10 cm – a few MB, for trying out</MenuItem>
          <MenuItem value={0.05}>5 cm – 4× the texels of 10 cm</MenuItem>
          <MenuItem value={0.025}>2.5 cm – 16× the texels of 10 cm, about a minute</MenuItem>
          <MenuItem value={0.0125}>1.3 cm – 64× the texels of 10 cm, some minutes</MenuItem>
        </TextField>
        {start.isError && <Alert severity="error">{start.error.message}</Alert>}
        {job && <JobProgress job={job} what="Exporting" />}
        <Typography variant="caption">
          A file that is written also waits for a week under Files, at the top of the page.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button variant="contained" disabled={isGoing(job) || start.isPending} onClick={() => start.mutate()}>
          Export
        </Button>
      </DialogActions>
    </Dialog>
  );
}
