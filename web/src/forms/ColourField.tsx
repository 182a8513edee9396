import Box from "@mui/material/Box";
import Tooltip from "@mui/material/Tooltip";
import { colours } from "../theme/theme";
import { fromHex, toHex } from "./colour";

interface ColourFieldProps {
  label: string;
  help?: string;
  /** Linear red, green and blue. */
  value: number[];
  onLive: (value: number[]) => void;
  onSettle: () => void;
}

/** A colour: pressed, it opens the chooser of the machine. */
export function ColourField({ label, help, value, onLive, onSettle }: ColourFieldProps) {
  return (
    <Tooltip describeChild title={help ?? ""}>
      <Box
        component="label"
        sx={{ display: "flex", alignItems: "center", gap: 1, fontSize: 12, color: colours.faint, py: 0.25 }}
      >
        <input
          type="color"
          aria-label={label}
          value={toHex(value)}
          onChange={(event) => onLive(fromHex(event.target.value))}
          onBlur={onSettle}
          style={{ width: 34, height: 22, padding: 0, border: `1px solid ${colours.ruleDark}`, background: "none" }}
        />
        {label}
      </Box>
    </Tooltip>
  );
}
