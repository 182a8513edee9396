import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import type { Structure } from "../api/client";
import { useChange } from "../site/context";
import { useView } from "../site/store";
import { type Declared, labelOf } from "../api/declared";

interface DrawnProps {
  subject: string;
  /** JSON pointer of the group, and the parameter's name. */
  group: string;
  name: string;
  declared: Declared;
  value: unknown;
  /** The object in whose own frame it is kept. */
  frame: Structure["placement"] | null;
}

/** Takes a line or a place from the view: how many points there are, drawing it anew, and taking it away. */
export function DrawnField({ subject, group, name, declared, value, frame }: DrawnProps) {
  const change = useChange();
  const draws = declared.draws as "path" | "outline" | "place" | "line";
  const label = labelOf(name, declared);
  const count = (value as unknown[]).length;
  const draw = () =>
    useView.getState().take({
      what: "trace",
      draws,
      path: group,
      name,
      sets: declared.sets ?? {},
      label: `${subject}: ${label.toLowerCase()}`,
      frame,
      points: [],
    });
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, minHeight: 30 }}>
      <Tooltip describeChild title={declared.description ?? ""}>
        <Typography variant="caption">
          {label}
          {draws !== "place" && `: ${count ? `${count} points` : "none drawn"}`}
        </Typography>
      </Tooltip>
      <Button onClick={draw} aria-label={`${draws === "place" ? "Pick" : "Draw"} in the view: ${label.toLowerCase()}`}>
        {draws === "place" ? "Pick in the view" : "Draw in the view"}
      </Button>
      {draws === "path" && count > 0 && (
        <Button
          color="secondary"
          onClick={() =>
            change.now(`${subject}: no ${label.toLowerCase()}`, [
              { op: "replace", path: `${group}/${name}`, value: [] },
            ])
          }
        >
          Clear
        </Button>
      )}
    </Box>
  );
}
