import Box from "@mui/material/Box";
import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { useUniforms } from "./uniforms";

const STEP = 0.05;

/** Tells the materials where the parting is. */
export function Parting() {
  const parted = useView((state) => state.parted);
  const { gl, size, invalidate } = useThree();
  const { partedAt } = useUniforms();
  const sharpness = useView((state) => state.sharpness);
  useEffect(() => {
    partedAt.value = parted === null ? -1 : parted * gl.domElement.width;
    invalidate();
  }, [parted, partedAt, gl, size, sharpness, invalidate]);
  return null;
}

/** The line between before and after, to drag or to move by the arrow keys. */
export function PartingBar() {
  const parted = useView((state) => state.parted);
  const bar = useRef<HTMLDivElement>(null);
  if (parted === null) return null;
  const to = (share: number) => useView.getState().set({ parted: Math.min(1, Math.max(0, share)) });
  return (
    <Box
      ref={bar}
      role="slider"
      tabIndex={0}
      data-parting
      aria-label="Parting of before and after"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(parted * 100)}
      aria-valuetext={`${Math.round(parted * 100)} % without weather`}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const box = bar.current!.parentElement!.getBoundingClientRect();
        to((event.clientX - box.left) / box.width);
      }}
      onKeyDown={(event) => {
        const way = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
        if (!way) return;
        event.preventDefault();
        to(parted + way);
      }}
      sx={{
        position: "absolute",
        top: 0,
        bottom: 0,
        left: `calc(${parted * 100}% - 8px)`,
        width: 16,
        cursor: "ew-resize",
        touchAction: "none",
        "&::before": {
          content: '""',
          position: "absolute",
          left: 7,
          top: 0,
          bottom: 0,
          width: 2,
          background: colours.pale,
          boxShadow: `0 0 0 1px ${colours.ink}`,
        },
      }}
    >
      {(["without weather", "as it is"] as const).map((text, side) => (
        <Box
          key={text}
          component="span"
          sx={{
            position: "absolute",
            bottom: 40,
            [side ? "left" : "right"]: 16,
            px: 0.75,
            whiteSpace: "nowrap",
            fontSize: 12,
            color: colours.ink,
            background: `${colours.pale}dd`,
            // At either end there is nothing to name.
            display: (side ? parted > 0.88 : parted < 0.12) ? "none" : "block",
          }}
        >
          {text}
        </Box>
      ))}
    </Box>
  );
}

/** Parts the view in two, or makes it whole again. */
export function togglePart() {
  const { parted, set } = useView.getState();
  set({ parted: parted === null ? 0.5 : null, partedBefore: null });
}
