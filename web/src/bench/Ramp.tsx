import Box from "@mui/material/Box";
import { type PointerEvent, useRef, useState } from "react";
import type { SignalCard } from "../api/client";
import { shown } from "../api/declared";
import { useRest } from "../forms/useRest";
import { colours } from "../theme/theme";
import { curvePoints, nearestHandle } from "./ramps";

const WIDTH = 172;
const HEIGHT = 62;
const FOOT = 4;

interface Props {
  card: SignalCard;
  low: number;
  high: number;
  unit: string;
  usual: [number, number];
  histogram: Float32Array | null;
  onLive: (startsAt: number, fullAt: number) => void;
  onSettle: () => void;
}

/** The histogram of a signal over the surfaces with its ramp drawn on it; both ends can be dragged. */
export function Ramp({ card, low, high, unit, usual, histogram, onLive, onSettle }: Props) {
  const rest = useRest(onSettle);
  const [held, setHeld] = useState<"starts" | "full" | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const { starts_at: starts, full_at: full } = card;
  const step = (high - low) / 200;
  const xOf = (value: number) => ((Math.min(high, Math.max(low, value)) - low) / (high - low)) * WIDTH;
  const valueAt = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    const value = low + ((event.clientX - box.left) / box.width) * (high - low);
    return Math.min(high, Math.max(low, Math.round(value / step) * step));
  };
  const move = (which: "starts" | "full", value: number) =>
    onLive(which === "starts" ? value : starts, which === "full" ? value : full);

  const top = histogram ? Math.max(...Array.from(histogram, Math.sqrt), 1e-9) : 1;
  const bars = histogram ? Array.from(histogram, (area) => Math.sqrt(area) / top) : [];
  const handle = (which: "starts" | "full", value: number) => (
    <g
      role="slider"
      tabIndex={0}
      aria-label={which === "starts" ? "Starts at" : "Full at"}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={value}
      aria-valuetext={`${shown(value, step)} ${unit}`}
      onBlur={rest.now}
      onKeyDown={(event) => {
        const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
        if (!way) return;
        event.preventDefault();
        move(which, Math.min(high, Math.max(low, value + way * step * (event.shiftKey ? 10 : 1))));
        rest.later();
      }}
      style={{ cursor: "ew-resize" }}
    >
      <line
        x1={xOf(value)}
        x2={xOf(value)}
        y1={0}
        y2={HEIGHT}
        stroke={colours.water}
        strokeWidth={held === which ? 2 : 1}
        strokeDasharray={which === "starts" ? "3 2" : undefined}
      />
      <rect
        x={xOf(value) - 4}
        y={which === "starts" ? HEIGHT - 12 : 0}
        width={8}
        height={12}
        fill={which === "starts" ? colours.pale : colours.water}
        stroke={colours.water}
      />
    </g>
  );

  const release = () => {
    if (held) onSettle();
    setHeld(null);
  };
  return (
    <Box sx={{ px: 0.75, pt: 0.5 }}>
      <svg
        ref={svg}
        width={WIDTH}
        height={HEIGHT + FOOT}
        data-testid="ramp"
        style={{ display: "block", touchAction: "none", overflow: "visible" }}
        onPointerDown={(event) => {
          const value = valueAt(event);
          const which = nearestHandle(value, starts, full);
          setHeld(which);
          event.currentTarget.setPointerCapture(event.pointerId);
          move(which, value);
        }}
        onPointerMove={(event) => held && move(held, valueAt(event))}
        onPointerUp={release}
        onPointerCancel={release}
        onDoubleClick={() => {
          onLive(...usual);
          onSettle();
        }}
      >
        <rect width={WIDTH} height={HEIGHT} fill="#ece6d6" />
        {bars.map((share, i) => (
          <rect
            key={i}
            x={(i / bars.length) * WIDTH}
            width={WIDTH / bars.length - 0.5}
            y={HEIGHT - share * HEIGHT}
            height={share * HEIGHT}
            fill={colours.ruleDark}
            opacity={0.75}
          />
        ))}
        <polyline
          points={curvePoints(card, low, high, WIDTH, HEIGHT)}
          fill="none"
          stroke={colours.water}
          strokeWidth={1.75}
        />
        {handle("starts", starts)}
        {handle("full", full)}
      </svg>
      <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 11, color: colours.faint, pb: 0.25 }}>
        <NumberBox
          label="Starts at"
          value={starts}
          unit={unit}
          step={step}
          onSet={(value) => {
            onLive(value, full);
            onSettle();
          }}
        />
        <NumberBox
          label="Full at"
          value={full}
          unit={unit}
          step={step}
          onSet={(value) => {
            onLive(starts, value);
            onSettle();
          }}
        />
      </Box>
    </Box>
  );
}

function NumberBox({
  label,
  value,
  unit,
  step,
  onSet,
}: {
  label: string;
  value: number;
  unit: string;
  step: number;
  onSet: (value: number) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const finish = () => {
    const wanted = Number(text?.replace(",", "."));
    if (text?.trim() && Number.isFinite(wanted)) onSet(wanted);
    setText(null);
  };
  return (
    <label style={{ display: "flex", gap: 3, alignItems: "baseline" }}>
      {label.toLowerCase()}
      <input
        aria-label={label}
        value={text ?? shown(value, step)}
        onChange={(event) => setText(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => event.key === "Enter" && finish()}
        style={{
          width: 34,
          font: "inherit",
          color: colours.ink,
          border: 0,
          borderBottom: `1px solid ${colours.rule}`,
          background: "transparent",
          padding: 0,
          textAlign: "right",
        }}
      />
      {unit}
    </label>
  );
}
