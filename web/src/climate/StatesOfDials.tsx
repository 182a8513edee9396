import BookmarkAddIcon from "@mui/icons-material/BookmarkAddOutlined";
import DeleteIcon from "@mui/icons-material/DeleteOutline";
import PlayIcon from "@mui/icons-material/PlayArrow";
import StopIcon from "@mui/icons-material/Stop";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Popover from "@mui/material/Popover";
import TextField from "@mui/material/TextField";
import Tooltip from "@mui/material/Tooltip";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { freshId, freshName } from "../site/layers";
import { useChange, useDocument } from "../site/context";
import { colours } from "../theme/theme";
import { between, stateOf } from "./states";

/** Seconds that a change is played over, and milliseconds from one position of the dials to the next. */
const LASTS = 8;
const BEAT = 250;

/** States of the dials kept under names: go to one at once, or watch the site change until it is there. */
export function StatesOfDials() {
  const document = useDocument();
  const change = useChange();
  const [wanted, setWanted] = useState("");
  const [playing, setPlaying] = useState(false);
  const [naming, setNaming] = useState<HTMLElement | null>(null);
  const timer = useRef(0);
  const { states, climate } = document;
  const now = stateOf(document);
  const shown = wanted || now;
  const goal = states.find((state) => state.id === shown);
  useEffect(() => () => window.clearInterval(timer.current), []);
  const stop = () => {
    window.clearInterval(timer.current);
    setPlaying(false);
    setWanted("");
    change.settle();
  };
  const play = () => {
    if (!goal) return;
    const from = climate;
    // What takes long to show is played more slowly: a change is never jumped over.
    let last = performance.now();
    let played = 0;
    setPlaying(true);
    timer.current = window.setInterval(() => {
      const time = performance.now();
      played += Math.min(time - last, 2 * BEAT);
      last = time;
      const share = Math.min(1, played / 1000 / LASTS);
      const value = between(from, goal.climate, share);
      change.live(`Climate: towards ${goal.name}`, [{ op: "replace", path: "/climate", value }]);
      if (share === 1) stop();
    }, BEAT);
  };
  const go = (id: string) => {
    const state = states.find((one) => one.id === id);
    if (!state) return;
    setWanted("");
    change.now(`Climate: ${state.name}`, [{ op: "replace", path: "/climate", value: state.climate }]);
  };
  const keep = (typed: string) => {
    setNaming(null);
    const name = typed.trim();
    if (!name) return;
    change.now(`Keep state ${name}`, [
      { op: "add", path: "/states/-", value: { id: freshId("state"), name, climate } },
    ]);
  };
  const remove = () => {
    const row = states.findIndex((one) => one.id === now);
    change.now(`Delete state ${states[row].name}`, [{ op: "remove", path: `/states/${row}` }]);
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", mt: 0.5, gap: 0.25 }} role="group" aria-label="States">
      <select
        aria-label="State"
        value={now}
        disabled={playing}
        onChange={(event) => go(event.target.value)}
        style={{ font: "inherit", fontSize: 12, flex: 1, border: 0, background: "transparent", color: colours.ink }}
      >
        <option value="">{states.length ? "no kept state" : "no states kept yet"}</option>
        {states.map((state) => (
          <option key={state.id} value={state.id}>
            {state.name}
          </option>
        ))}
      </select>
      <Tooltip title="The state that the change is played to">
        <select
          aria-label="Play to"
          value={wanted}
          disabled={playing || states.length === 0}
          onChange={(event) => setWanted(event.target.value)}
          style={{
            font: "inherit",
            fontSize: 12,
            maxWidth: 76,
            border: 0,
            background: "transparent",
            color: colours.faint,
          }}
        >
          <option value="">play to …</option>
          {states
            .filter((state) => state.id !== now)
            .map((state) => (
              <option key={state.id} value={state.id}>
                {state.name}
              </option>
            ))}
        </select>
      </Tooltip>
      <Tooltip title={playing ? "Stop here" : `Watch the site change over ${LASTS} seconds`}>
        <span>
          <IconButton
            aria-label={playing ? "Stop here" : "Play the change"}
            disabled={!playing && !wanted}
            onClick={playing ? stop : play}
            sx={{ p: 0.25 }}
          >
            {playing ? <StopIcon sx={{ fontSize: 17 }} /> : <PlayIcon sx={{ fontSize: 17 }} />}
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title="Keep these dials under a name">
        <IconButton aria-label="Keep these dials" onClick={(event) => setNaming(event.currentTarget)} sx={{ p: 0.25 }}>
          <BookmarkAddIcon sx={{ fontSize: 17 }} />
        </IconButton>
      </Tooltip>
      <Popover open={naming !== null} anchorEl={naming} onClose={() => setNaming(null)}>
        <Box
          component="form"
          sx={{ p: 1.5, display: "flex", gap: 1 }}
          onSubmit={(event: FormEvent<HTMLFormElement>) => {
            event.preventDefault();
            keep(String(new FormData(event.currentTarget).get("name") ?? ""));
          }}
        >
          <TextField
            name="name"
            label="Name of the state"
            defaultValue={freshName(
              "State",
              states.map((one) => one.name),
            )}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          <Button type="submit">Keep</Button>
        </Box>
      </Popover>
      {now && (
        <Tooltip title="Delete this state; the dials stay as they are">
          <IconButton aria-label="Delete this state" onClick={remove} sx={{ p: 0.25 }}>
            <DeleteIcon sx={{ fontSize: 17 }} />
          </IconButton>
        </Tooltip>
      )}
    </Box>
  );
}
