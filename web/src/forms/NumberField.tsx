import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { colours } from "../theme/theme";
import { plain, typed } from "../api/declared";
import { trackOf } from "./track";
import { useRest } from "./useRest";

interface Props {
  label: string;
  help?: string;
  value: number;
  low: number;
  high: number;
  step: number;
  unit?: string;
  usual?: number;
  whole?: boolean;
  /** A value on its way, while dragging. */
  onLive: (value: number) => void;
  /** The value is there to stay. */
  onSettle: () => void;
}

// With more steps than this a slider would jump over dozens of them a pixel: then the number stands alone.
const MOST_STEPS = 3000;

/** A number as a slider and a text box. Double-click goes back to the usual value; wheel over the box fine-tunes. */
export function NumberField({
  label,
  help = "",
  value,
  low,
  high,
  step,
  unit = "",
  usual,
  whole,
  onLive,
  onSettle,
}: Props) {
  const track = trackOf(low, high, whole ? 1 : step, usual);
  const [text, setText] = useState<string | null>(null);
  const box = useRef<HTMLInputElement>(null);
  const rest = useRest(onSettle);
  const clamp = (wanted: number) => Math.min(high, Math.max(low, whole ? Math.round(wanted) : wanted));
  const set = (wanted: number) => {
    if (!Number.isFinite(wanted)) return;
    rest.done();
    onLive(clamp(wanted));
    onSettle();
  };
  const latest = useRef({ value, onLive, onSettle, clamp });
  latest.current = { value, onLive, onSettle, clamp };

  const nudge = useRef((_by: number) => {});
  nudge.current = (by: number) => {
    const now = latest.current;
    now.onLive(now.clamp(now.value + by));
    rest.later();
  };

  useEffect(() => {
    const element = box.current!;
    const onWheel = (event: WheelEvent) => {
      if (document.activeElement !== element) return;
      event.preventDefault();
      nudge.current(-Math.sign(event.deltaY) * (whole ? 1 : step / 2));
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [step, whole]);

  const finish = () => {
    rest.now();
    if (text === null) return;
    const wanted = typed(text);
    setText(null);
    if (wanted !== value) set(wanted);
  };

  return (
    <Box sx={{ minWidth: 0 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 0.5 }}>
        <Tooltip describeChild title={help} placement="top">
          <Typography variant="caption" noWrap sx={{ flex: 1, color: colours.faint }}>
            {label}
          </Typography>
        </Tooltip>
        <input
          ref={box}
          aria-label={`${label}${unit ? `, ${unit}` : ""}`}
          value={text ?? plain(value, step)}
          inputMode="decimal"
          onFocus={(event) => event.target.select()}
          onChange={(event) => setText(event.target.value)}
          onBlur={finish}
          onKeyDown={(event) => {
            if (event.key === "Enter") finish();
            if (event.key === "Escape" && text !== null) {
              event.stopPropagation();
              setText(null);
            }
            if (event.key === "ArrowUp" || event.key === "ArrowDown") {
              event.preventDefault();
              setText(null);
              nudge.current((event.key === "ArrowUp" ? 1 : -1) * (whole ? 1 : step) * (event.shiftKey ? 10 : 1));
            }
          }}
          style={{
            width: 50,
            font: "inherit",
            fontSize: 12,
            textAlign: "right",
            color: colours.ink,
            background: "transparent",
            border: 0,
            borderBottom: `1px solid ${colours.rule}`,
            padding: 0,
          }}
        />
        <Typography variant="caption" sx={{ minWidth: 14, color: colours.faint }}>
          {unit}
        </Typography>
      </Box>
      {(track.bowed || (high - low) / step <= MOST_STEPS) && (
        <Slider
          size="small"
          aria-label={label}
          // The number beside it is the one stop of the Tab key, and does all that this does.
          slotProps={{ input: { tabIndex: -1 } }}
          {...(track.bowed
            ? { value: track.at(value), min: 0, max: 1, step: 0.0005, scale: track.value }
            : { value, min: low, max: high, step: whole ? 1 : step })}
          onChange={(_, at) => onLive(track.bowed ? track.value(at as number) : (at as number))}
          onKeyDownCapture={(event) => {
            const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
            if (!way) return;
            // One step of the number, whatever the track is like there.
            event.preventDefault();
            event.stopPropagation();
            nudge.current(way * (whole ? 1 : step) * (event.shiftKey ? 10 : 1));
          }}
          onChangeCommitted={onSettle}
          onDoubleClick={() => usual !== undefined && set(usual)}
          sx={{
            display: "block",
            height: 3,
            py: 0.6,
            mb: 0.25,
            "& .MuiSlider-thumb": { width: 10, height: 14, borderRadius: 0.5 },
          }}
        />
      )}
    </Box>
  );
}
