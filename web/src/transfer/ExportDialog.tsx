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
import { client, type ExportCost, unwrap } from "../api/client";
import { useExportCosts } from "../api/queries";
import { isGoing, JobProgress } from "../jobs/JobProgress";
import { useStartedJob } from "../jobs/useStartedJob";
import { useSiteContext } from "../site/context";

/** Heights of pictures that maps can be made for, pixels. */
const ROWS = [1080, 2160, 4320];
/** Metres. */
const USUAL = 0.025;

/** What a choice of texels is called: a size, or a shot. */
const nameOf = ({ shot, name, texel }: ExportCost) => (shot ? `As “${name}” needs` : `${+(texel * 100).toFixed(2)} cm`);

/** What the maps of a choice come to, in words. */
const cost = ({ texels, bytes }: ExportCost) =>
  `${(texels / 1e6).toFixed(1)} million texels, about ${Math.ceil(bytes / 1e6).toLocaleString("en")} MB`;

/** Write the dressed site as GLB, and fetch the file. */
export function ExportDialog({ onClose }: { onClose: () => void }) {
  const { siteId } = useSiteContext();
  const [manner, setManner] = useState<"instanced" | "merged">("instanced");
  const [rows, setRows] = useState(ROWS[0]);
  const [wanted, setWanted] = useState("");
  const costs = useExportCosts(siteId, rows);
  const choices = costs.data ?? [];
  const keyOf = ({ shot, texel }: ExportCost) => shot || `${texel} m`;
  const chosen = choices.find((one) => keyOf(one) === wanted) ?? choices.find(({ texel }) => texel === USUAL);
  const { start, job } = useStartedJob(() =>
    unwrap(
      client.POST("/api/sites/{site_id}/exports", {
        params: { path: { site_id: siteId } },
        body: { manner, shot: chosen!.shot, rows, texel: chosen!.texel || USUAL },
      }),
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
          value={chosen ? keyOf(chosen) : ""}
          onChange={(event) => setWanted(event.target.value)}
          helperText={chosen ? `Maps: ${cost(chosen)}.` : "Working out what they come to …"}
        >
          {choices.map((one) => (
            <MenuItem key={keyOf(one)} value={keyOf(one)}>
              {nameOf(one)} – {cost(one)}
            </MenuItem>
          ))}
        </TextField>
        {chosen?.shot && (
          <TextField
            select
            label="For a picture this high"
            value={rows}
            onChange={(event) => setRows(Number(event.target.value))}
            helperText="What is out of sight gets texels of 10 cm."
          >
            {ROWS.map((one) => (
              <MenuItem key={one} value={one}>
                {one.toLocaleString("en")} pixels
              </MenuItem>
            ))}
          </TextField>
        )}
        {costs.isError && <Alert severity="error">{costs.error.message}</Alert>}
        {start.isError && <Alert severity="error">{start.error.message}</Alert>}
        {job && <JobProgress job={job} what="Exporting" />}
        <Typography variant="caption">
          A file that is written also waits for a week under Files, at the top of the page.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          variant="contained"
          disabled={!chosen || isGoing(job) || start.isPending}
          onClick={() => start.mutate()}
        >
          Export
        </Button>
      </DialogActions>
    </Dialog>
  );
}
