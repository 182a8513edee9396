import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { inWords } from "../api/client";
import { JobProgress } from "../jobs/JobProgress";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { StillPicture } from "./StillPicture";
import {
  heightOf,
  pictureOf,
  type Region,
  SAMPLES,
  SHARERS,
  type Still,
  TEST,
  useStillActions,
  useStills,
  WIDTHS,
} from "./stills";
import { WriteStill } from "./WriteStill";

const WHEN = new Intl.DateTimeFormat(undefined, { dateStyle: "short", timeStyle: "short" });

/** Stills of the site's shots: taking them, watching them come, and all that were taken before. */
export function StillsDialog({ onClose }: { onClose: () => void }) {
  const { siteId } = useSiteContext();
  const { shots } = useDocument();
  const { stills, isPending, error } = useStills(siteId);
  const actions = useStillActions(siteId);
  const seen = useView((state) => state.shotId);
  const [chosen, setChosen] = useState<string | null>(null);
  const [shotId, setShotId] = useState(seen && shots.some(({ id }) => id === seen) ? seen : (shots[0]?.id ?? ""));
  const [width, setWidth] = useState(WIDTHS[2]);
  const [samples, setSamples] = useState(SAMPLES[2]);
  const [sharers, setSharers] = useState(0);
  const [region, setRegion] = useState<Region | null>(null);
  const shot = shots.find(({ id }) => id === shotId);
  const shown = stills.find(({ id }) => id === chosen) ?? stills[0];
  const taken = (size: { width: number; samples: number }) =>
    actions.take.mutate(
      { shot: shotId, ...size, height: heightOf(shot!, size.width), region, sharers },
      { onSuccess: ({ id }) => setChosen(id) },
    );
  // What is marked is a part of what is seen: the next one is of the same shot.
  const mark = (part: Region | null) => {
    setRegion(part);
    if (part && shots.some(({ id }) => id === shown?.shot)) setShotId(shown.shot);
  };
  const choose = (id: string) => {
    setRegion(null);
    setChosen(id);
  };
  const failed = Object.values(actions).find((one) => one.error)?.error ?? error;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xl" slotProps={{ paper: { sx: { height: "92vh" } } }}>
      <DialogTitle>Stills</DialogTitle>
      <DialogContent
        sx={{ display: "grid", gridTemplateColumns: "236px minmax(0, 1fr)", gap: 2, minHeight: 0, overflow: "hidden" }}
      >
        <Box sx={{ display: "grid", gridTemplateRows: "auto auto minmax(0, 1fr)", gap: 1.5, minHeight: 0, pt: 1 }}>
          <Box sx={{ display: "grid", gap: 1.25 }}>
            <TextField
              select
              label="Shot"
              value={shot ? shotId : ""}
              onChange={(event) => setShotId(event.target.value)}
            >
              {shots.map(({ id, name }) => (
                <MenuItem key={id} value={id}>
                  {name}
                </MenuItem>
              ))}
            </TextField>
            <TextField select label="Size" value={width} onChange={(event) => setWidth(Number(event.target.value))}>
              {WIDTHS.map((one) => (
                <MenuItem key={one} value={one}>
                  {one} × {shot ? heightOf(shot, one) : "–"}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Samples for each pixel"
              value={samples}
              onChange={(event) => setSamples(Number(event.target.value))}
            >
              {SAMPLES.map((one) => (
                <MenuItem key={one} value={one}>
                  {one}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Help from other workers"
              value={sharers}
              onChange={(event) => setSharers(Number(event.target.value))}
            >
              {SHARERS.map((one) => (
                <MenuItem key={one} value={one}>
                  {one ? `up to ${one}, as far as free` : "none"}
                </MenuItem>
              ))}
            </TextField>
            {region && (
              <Box sx={{ display: "flex", alignItems: "center" }}>
                <Typography variant="caption" sx={{ flex: 1 }}>
                  Only the part that is marked is taken.
                </Typography>
                <Button size="small" onClick={() => setRegion(null)}>
                  All of it
                </Button>
              </Box>
            )}
            <Box sx={{ display: "flex", gap: 1 }}>
              <Tooltip describeChild title={`${TEST.width} pixels wide, ${TEST.samples} samples, its noise removed`}>
                <Button disabled={!shot || actions.take.isPending} onClick={() => taken(TEST)}>
                  Take a test
                </Button>
              </Tooltip>
              <Button
                variant="contained"
                disabled={!shot || actions.take.isPending}
                onClick={() => taken({ width, samples })}
              >
                Take it
              </Button>
            </Box>
          </Box>
          <Typography variant="overline">{stills.length ? `${stills.length} taken` : "None taken yet"}</Typography>
          <Box
            component="ul"
            aria-label="Stills of this site"
            sx={{ overflow: "auto", m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.75, alignContent: "start" }}
          >
            {stills.map((still) => (
              <li key={still.id}>
                <Thumbnail still={still} chosen={still.id === shown?.id} onChoose={() => choose(still.id)} />
              </li>
            ))}
          </Box>
        </Box>
        <Box sx={{ display: "grid", gridTemplateRows: "minmax(0, 1fr) auto", gap: 1, minHeight: 0 }}>
          {shown ? (
            <>
              <StillPicture still={shown} marked={region} onMark={mark} />
              <Told still={shown} actions={actions} onRestored={onClose} />
            </>
          ) : (
            <Typography variant="body2" sx={{ pt: 1 }}>
              {isPending ? "Reading …" : NONE}
            </Typography>
          )}
          {failed && <Alert severity="error">{inWords(failed)}</Alert>}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

const NONE =
  "A still is a picture of a shot in which light goes its ways: traced path by path, with soft shadows, light that comes from walls and water, and all " +
  "planting. It is shown while it comes, and goes on though the page is closed.";

/** One of the stills in the list. */
function Thumbnail({ still, chosen, onChoose }: { still: Still; chosen: boolean; onChoose: () => void }) {
  return (
    <Button
      fullWidth
      onClick={onChoose}
      aria-pressed={chosen}
      sx={{
        display: "grid",
        gridTemplateColumns: "84px 1fr",
        gap: 1,
        p: 0.5,
        textAlign: "left",
        background: chosen ? colours.waterPale : undefined,
      }}
    >
      <Box sx={{ height: 56, background: colours.ink, overflow: "hidden", display: "grid", placeItems: "center" }}>
        {still.picture && (
          <img src={pictureOf(still)} alt="" style={{ width: "100%", height: "100%", objectFit: "cover" }} />
        )}
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2" noWrap sx={{ fontWeight: 600 }}>
          {still.name}
        </Typography>
        <Typography variant="caption" component="div" noWrap>
          {still.width} × {still.height}
          {still.region ? ", a part" : ""}
        </Typography>
        <Typography variant="caption" component="div" noWrap>
          {still.going ? "Coming …" : WHEN.format(new Date(still.created))}
        </Typography>
      </Box>
    </Button>
  );
}

/** How far a still has come, and what can be done with it. */
function Told({
  still,
  actions,
  onRestored,
}: {
  still: Still;
  actions: ReturnType<typeof useStillActions>;
  onRestored: () => void;
}) {
  const { editor } = useSiteContext();
  const more = SAMPLES.find((one) => one > Math.max(still.samples, still.wanted)) ?? still.wanted * 2;
  return (
    <Box sx={{ display: "grid", gap: 0.5 }}>
      {still.job && (still.going || still.job.state === "failed" || still.job.message) && (
        <JobProgress job={still.job} />
      )}
      {still.job?.state === "done" && still.job.message && <Alert severity="info">{still.job.message}</Alert>}
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        <Typography variant="caption" sx={{ flex: 1 }}>
          {still.name}, {still.width} × {still.height} pixels, {Math.round(still.samples)} of {still.wanted} samples
          {still.seconds > 0 &&
            ` in ${still.seconds < 90 ? `${still.seconds.toFixed(0)} s` : `${(still.seconds / 60).toFixed(1)} min`}`}
          ; revision {still.revision}.
        </Typography>
        {!still.going && (
          <>
            {still.samples < still.wanted ? (
              <Button onClick={() => actions.goOn.mutate({ id: still.id, samples: still.wanted })}>Go on</Button>
            ) : (
              <Button onClick={() => actions.goOn.mutate({ id: still.id, samples: more })}>Go on to {more}</Button>
            )}
          </>
        )}
        {still.bytes > 0 && !still.going && <WriteStill still={still} />}
        {still.bytes > 0 && (
          <Tooltip
            describeChild
            title={`Linear light in layers: the picture, what came of sun, sky, lamps and glow, albedo, normals, depth; ${(still.bytes / 1e6).toFixed(1)} MB`}
          >
            <Button href={`/api/stills/${still.id}/layers`}>Fetch EXR</Button>
          </Tooltip>
        )}
        <Tooltip describeChild title="Make the site what it was when this was taken; that can be undone">
          <Button
            onClick={() =>
              actions.restore.mutate(still.id, { onSuccess: () => void editor.refresh().then(onRestored) })
            }
          >
            Restore the site
          </Button>
        </Tooltip>
        <Button color="secondary" onClick={() => actions.remove.mutate(still.id)}>
          Delete
        </Button>
      </Box>
    </Box>
  );
}
