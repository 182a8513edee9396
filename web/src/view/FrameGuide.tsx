import Box from "@mui/material/Box";
import { useView } from "../site/store";
import { ratioOf, type Lens } from "./lens";

/** Share of a picture's sides within which nothing is cut off on any screen, and its thirds. */
const SAFE = "5%";
const THIRD = "33.333%";
const line = "1px solid rgba(255, 255, 255, 0.35)";

/** What a shot's picture takes in of the view: all beyond is dimmed; its thirds and its safe part are marked. */
export function FrameGuide({ frame }: Pick<Lens, "frame">) {
  const shown = useView((state) => state.framing);
  if (!shown) return null;
  const ratio = ratioOf(frame);
  return (
    <Box
      aria-hidden
      data-testid="frame"
      sx={{
        position: "absolute",
        inset: 0,
        overflow: "hidden",
        pointerEvents: "none",
        containerType: "size",
        display: "grid",
        placeItems: "center",
      }}
    >
      <Box
        sx={{
          position: "relative",
          aspectRatio: String(ratio),
          width: `min(100cqw, 100cqh * ${ratio})`,
          boxShadow: "0 0 0 4000px rgba(20, 22, 24, 0.55)",
          outline: "1px solid rgba(255, 255, 255, 0.6)",
        }}
      >
        <Box sx={{ position: "absolute", inset: `0 ${THIRD}`, borderLeft: line, borderRight: line }} />
        <Box sx={{ position: "absolute", inset: `${THIRD} 0`, borderTop: line, borderBottom: line }} />
        <Box sx={{ position: "absolute", inset: SAFE, border: "1px dashed rgba(255, 255, 255, 0.45)" }} />
      </Box>
    </Box>
  );
}
