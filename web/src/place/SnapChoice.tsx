import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Tooltip from "@mui/material/Tooltip";
import { pickedObjects, type Snap, useView } from "../site/store";

const SNAPS: { snap: Snap; label: string }[] = [
  { snap: "surfaces", label: "Lands on anything" },
  { snap: "ground", label: "Lands on the ground" },
  { snap: "level", label: "Keeps its level" },
];

/** What a moved object comes to lie on; shown while something is picked. */
export function SnapChoice({ sx }: { sx: object }) {
  const any = useView((state) => pickedObjects(state).length > 0);
  const snap = useView((state) => state.snap);
  if (!any) return null;
  return (
    <Tooltip title="What picked objects come to lie on when they slide">
      <Select
        value={snap}
        onChange={(event) => useView.setState({ snap: event.target.value as Snap })}
        inputProps={{ "aria-label": "What moved objects land on" }}
        sx={sx}
      >
        {SNAPS.map((one) => (
          <MenuItem key={one.snap} value={one.snap} dense>
            {one.label}
          </MenuItem>
        ))}
      </Select>
    </Tooltip>
  );
}
