import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import { declaredGroup, readable } from "../api/declared";
import { useRest } from "../forms/useRest";
import { useChange, useDocument } from "../site/context";
import { colours } from "../theme/theme";
import { StatesOfDials } from "./StatesOfDials";
import { reading } from "./reading";

const TONES: Record<string, string> = {
  years: colours.oxide,
  damp: colours.water,
  season: colours.moss,
  snow: colours.frost,
};
const SWEEP = 270;

/** The dials that every cover and plant answers to. */
export function Climate() {
  const { climate } = useDocument();
  const change = useChange();
  const declared = declaredGroup("Climate");
  return (
    <Box
      component="section"
      aria-label="Climate"
      data-region
      sx={{ p: 1, background: `${colours.pale}ee`, border: `1px solid ${colours.rule}`, borderRadius: 1 }}
    >
      <Box sx={{ display: "flex", gap: 1 }}>
        {Object.entries(declared).map(([name, entry]) => (
          <Dial
            key={name}
            name={name}
            label={readable(name)}
            help={entry.description ?? ""}
            value={climate[name as keyof typeof climate]}
            low={entry.minimum!}
            high={entry.maximum!}
            step={entry.step!}
            usual={entry.default as number}
            tone={TONES[name] ?? colours.frost}
            onLive={(value) => change.live(`Climate: ${name}`, [{ op: "replace", path: `/climate/${name}`, value }])}
            onSettle={change.settle}
          />
        ))}
      </Box>
      <StatesOfDials />
    </Box>
  );
}

interface DialProps {
  name: string;
  label: string;
  help: string;
  value: number;
  low: number;
  high: number;
  step: number;
  usual: number;
  tone: string;
  onLive: (value: number) => void;
  onSettle: () => void;
}

/** A gauge like a water-level clock: drag up and down or sideways, arrow keys step, double-click resets. */
function Dial({ name, label, help, value, low, high, step, usual, tone, onLive, onSettle }: DialProps) {
  const rest = useRest(onSettle);
  const drag = useRef<{ x: number; y: number; value: number } | null>(null);
  const share = (value - low) / (high - low);
  const rounded = (wanted: number) => Math.min(high, Math.max(low, Math.round(wanted / step) * step));
  const point = (at: number, radius: number) => {
    const angle = ((at * SWEEP - SWEEP / 2 - 90) * Math.PI) / 180;
    return [24 + radius * Math.cos(angle), 24 + radius * Math.sin(angle)];
  };
  const arc = (to: number) => {
    const [x0, y0] = point(0, 19);
    const [x1, y1] = point(to, 19);
    return `M${x0} ${y0}A19 19 0 ${to * SWEEP > 180 ? 1 : 0} 1 ${x1} ${y1}`;
  };
  const [hx, hy] = point(share, 13);
  const release = () => {
    if (drag.current) onSettle();
    drag.current = null;
  };
  const text = reading(name, value, step);
  return (
    <Box sx={{ width: 56, textAlign: "center" }} title={help}>
      <svg
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={low}
        aria-valuemax={high}
        aria-valuenow={value}
        aria-valuetext={text}
        width={48}
        height={44}
        style={{ cursor: "ns-resize", touchAction: "none", display: "block", margin: "0 auto" }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY, value };
        }}
        onPointerMove={(event) => {
          if (!drag.current) return;
          const moved = event.clientX - drag.current.x - (event.clientY - drag.current.y);
          onLive(rounded(drag.current.value + (moved / 160) * (high - low)));
        }}
        onPointerUp={release}
        onPointerCancel={release}
        onDoubleClick={() => {
          onLive(usual);
          onSettle();
        }}
        onBlur={rest.now}
        onKeyDown={(event) => {
          const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
          if (!way) return;
          event.preventDefault();
          onLive(rounded(value + way * step));
          rest.later();
        }}
      >
        <path d={arc(1)} fill="none" stroke={colours.rule} strokeWidth={5} />
        {share > 0.002 && <path d={arc(share)} fill="none" stroke={tone} strokeWidth={5} />}
        <line x1={24} y1={24} x2={hx} y2={hy} stroke={colours.ink} strokeWidth={1.5} />
      </svg>
      <Typography variant="caption" component="div" sx={{ lineHeight: 1.1, fontWeight: 600 }}>
        {label}
      </Typography>
      <Typography variant="caption" component="div" sx={{ lineHeight: 1.2, color: colours.faint }}>
        {text}
      </Typography>
    </Box>
  );
}
