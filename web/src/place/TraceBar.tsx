import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useSiteContext } from "../site/context";
import { tracingIn } from "../site/inHand";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { finishTrace, LEAST } from "./tracing";

const WORDS = {
  path: "Click along the line, one point after another.",
  outline: "Click from corner to corner; the last one joins the first.",
  place: "Click the place.",
  line: "Click along the line, one point after another.",
};

/** What to do while a line or place is drawn, and how to end it. */
export function TraceBar() {
  const { siteId, editor } = useSiteContext();
  const tracing = useView(tracingIn);
  const { take } = useView.getState();
  const count = tracing?.points.length ?? 0;
  const enough = tracing !== null && count >= LEAST[tracing.draws];

  useEffect(() => {
    if (!tracing) return;
    const down = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea, button")) return;
      if (event.key === "Enter" && enough) void finishTrace(siteId, editor, tracing);
      else if (event.key === "Backspace") take({ ...tracing, points: tracing.points.slice(0, -1) });
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, [tracing, enough, siteId, editor, take]);

  if (!tracing) return null;
  return (
    <Box
      role="group"
      aria-label="Drawing"
      sx={{
        position: "absolute",
        bottom: 12,
        left: "50%",
        transform: "translateX(-50%)",
        display: "flex",
        alignItems: "center",
        gap: 1,
        px: 1.5,
        py: 0.5,
        background: colours.pale,
        border: `1px solid ${colours.water}`,
      }}
    >
      <Typography variant="caption" role="status">
        {tracing.label}. {WORDS[tracing.draws]}
        {tracing.draws !== "place" && ` ${count} so far.`}
      </Typography>
      {tracing.draws !== "place" && (
        <>
          <Button disabled={!count} onClick={() => take({ ...tracing, points: tracing.points.slice(0, -1) })}>
            Take one back
          </Button>
          <Button variant="contained" disabled={!enough} onClick={() => void finishTrace(siteId, editor, tracing)}>
            Finish
          </Button>
        </>
      )}
      <Button onClick={() => take(null)}>Cancel</Button>
    </Box>
  );
}
