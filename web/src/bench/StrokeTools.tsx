import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { useChange } from "../site/context";
import { brushIn, type Of, type StrokeTool } from "../site/inHand";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { BrushForm } from "./BrushForm";

const FIRST = { radius: 0.6, strength: 1, soft: 0.5 };
const WORDS: Record<StrokeTool, string> = { stroke: "Paint", wipe: "Wipe out", sow: "Sow", thin: "Thin" };

interface Props {
  /** What adds and what takes away. */
  tools: [StrokeTool, StrokeTool];
  /** JSON pointer of the strokes. */
  path: string;
  subject: string;
  strokes: number;
  items?: number[];
}

/** Two brushes over any surface, one that adds and one that takes away, and how many strokes there are. */
export function StrokeTools({ tools, path, subject, strokes, items }: Props) {
  const change = useChange();
  const brush = useView(brushIn);
  const mine = brush?.strokes === path ? brush : null;
  useEffect(
    () => () => {
      if (brushIn(useView.getState())?.strokes === path) useView.getState().take(null);
    },
    [path],
  );
  const take = (tool: StrokeTool) => {
    const next: Of<"brush"> = {
      ...FIRST,
      ...(mine ?? {}),
      what: "brush",
      tool,
      strokes: path,
      label: `${subject}: ${WORDS[tool].toLowerCase()}`,
      items,
    };
    useView.getState().take(mine?.tool === tool ? null : next);
  };
  return (
    <Box>
      <Box role="group" aria-label="Brushes over surfaces" sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
        {tools.map((tool) => (
          <Chip
            key={tool}
            size="small"
            label={WORDS[tool]}
            aria-pressed={mine?.tool === tool}
            color={mine?.tool === tool ? "primary" : "default"}
            variant={mine?.tool === tool ? "filled" : "outlined"}
            onClick={() => take(tool)}
          />
        ))}
        <Typography variant="caption" sx={{ color: colours.faint }}>
          {strokes ? `${strokes} strokes` : "no strokes yet"}
        </Typography>
        {strokes > 0 && (
          <Button
            color="secondary"
            onClick={() => change.now(`${subject}: no strokes`, [{ op: "replace", path, value: [] }])}
          >
            Clear
          </Button>
        )}
      </Box>
      {mine && <BrushForm brush={mine} unit="" />}
    </Box>
  );
}
