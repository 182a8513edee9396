import EyeIcon from "@mui/icons-material/VisibilityOutlined";
import EyeOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import IconButton from "@mui/material/IconButton";
import { colours } from "../theme/theme";

/** A button that is all words. */
export const plainButton = {
  font: "inherit",
  fontSize: 13,
  textAlign: "left",
  background: "none",
  border: 0,
  p: 0,
  py: 0.25,
  color: colours.ink,
  cursor: "pointer",
} as const;

/** Shows or hides a layer. */
export function VisibilityButton({ shown, name, onClick }: { shown: boolean; name: string; onClick: () => void }) {
  return (
    <IconButton aria-label={shown ? `Hide ${name}` : `Show ${name}`} onClick={onClick} sx={{ p: 0.25 }}>
      {shown ? <EyeIcon sx={{ fontSize: 16 }} /> : <EyeOffIcon sx={{ fontSize: 16 }} />}
    </IconButton>
  );
}
