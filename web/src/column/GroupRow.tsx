import ExpandIcon from "@mui/icons-material/ExpandMore";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import type { Structure } from "../api/client";
import { setAll } from "../place/actions";
import { useSiteContext } from "../site/context";
import { pickedObjects, useView } from "../site/store";
import { colours } from "../theme/theme";
import { VisibilityButton } from "../forms/VisibilityButton";
import { nameButton } from "./LayerRow";

interface GroupProps {
  name: string;
  members: Structure[];
  tone: string;
  open: boolean;
  onToggle: () => void;
}

/** The head of a group: pick all its members, show or hide them, fold it. */
export function GroupRow({ name, members, tone, open, onToggle }: GroupProps) {
  const { editor } = useSiteContext();
  const ids = members.map((one) => one.id);
  const all = useView((state) => {
    const picked = pickedObjects(state);
    return picked.length === ids.length && ids.every((id) => picked.includes(id));
  });
  const shown = members.some((one) => one.shown);
  return (
    <Box
      component="li"
      data-line
      sx={{
        display: "flex",
        alignItems: "center",
        pl: 1,
        pr: 0.5,
        minHeight: 26,
        borderTop: `1px solid ${colours.rule}`,
        borderLeft: `5px solid ${tone}`,
        background: all ? colours.waterPale : colours.limestone,
        opacity: shown ? 1 : 0.55,
      }}
    >
      <IconButton
        aria-label={`${open ? "Fold" : "Unfold"} ${name}`}
        aria-expanded={open}
        onClick={onToggle}
        sx={{ p: 0 }}
      >
        <ExpandIcon sx={{ fontSize: 18, transform: open ? "none" : "rotate(-90deg)" }} />
      </IconButton>
      <Box
        component="button"
        aria-pressed={all}
        onClick={() => useView.setState({ picked: { part: "structures", id: ids[0] }, alsoPicked: ids.slice(1) })}
        sx={{ ...nameButton, fontWeight: 600 }}
      >
        {name}
      </Box>
      <Box component="span" sx={{ fontSize: 11, color: colours.faint, mr: 0.5 }}>
        {members.length}
      </Box>
      <VisibilityButton
        shown={shown}
        name={`group ${name}`}
        onClick={() => {
          const { document } = editor.state()!;
          editor.commit(`${shown ? "Hide" : "Show"} group ${name}`, setAll(document, ids, "shown", !shown));
        }}
      />
    </Box>
  );
}
