import DeleteIcon from "@mui/icons-material/DeleteOutline";
import LockIcon from "@mui/icons-material/LockOutlined";
import UnlockIcon from "@mui/icons-material/LockOpenOutlined";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { memo } from "react";
import { plainButton, VisibilityButton } from "../forms/VisibilityButton";
import { useSiteContext } from "../site/context";
import type { PartModule } from "../parts/part";
import { useView } from "../site/store";
import { colours } from "../theme/theme";

interface Props {
  entry: PartModule;
  id: string;
  name: string;
  /** Undefined where a layer has no on and off. */
  shown?: boolean;
  locked?: boolean;
  /** Whether it stands inside a group. */
  inset?: boolean;
  cost: string;
}

/** One layer in its band: pick it, show or hide it, delete it. */
export const LayerRow = memo(function LayerRow({ entry, id, name, shown, locked, inset, cost }: Props) {
  const { part, tone } = entry;
  const list = entry.list!;
  const { editor } = useSiteContext();
  const isPicked = useView(
    (state) => state.picked?.part === part && (state.picked.id === id || state.alsoPicked.includes(id)),
  );
  const { pick, goTo } = useView.getState();
  const place = () => {
    const document = editor.state()!.document;
    return { document, index: document[list].findIndex((layer) => layer.id === id) };
  };
  const remove = () => {
    const { document, index } = place();
    const usual = [{ op: "remove" as const, path: `/${list}/${index}` }];
    editor.commit(`Delete ${name}`, entry.deletion?.(document, index) ?? usual);
    pick(null);
  };
  const toggle = () =>
    editor.commit(`${shown ? "Hide" : "Show"} ${name}`, [
      { op: "replace", path: `/${list}/${place().index}/shown`, value: !shown },
    ]);
  const lock = () =>
    editor.commit(`${locked ? "Unlock" : "Lock"} ${name}`, [
      { op: "replace", path: `/${list}/${place().index}/locked`, value: !locked },
    ]);
  return (
    <Box
      component="li"
      data-line
      onKeyDown={(event: React.KeyboardEvent) => {
        // What is picked is deleted by the same key wherever the focus is.
        if (event.key !== "Delete" || (isPicked && (part === "structures" || part === "lamps" || part === "decals")))
          return;
        event.stopPropagation();
        remove();
      }}
      sx={{
        display: "flex",
        alignItems: "center",
        pl: inset ? 3.5 : 2,
        pr: 0.5,
        minHeight: 26,
        borderTop: `1px solid ${colours.rule}`,
        borderLeft: `5px solid ${tone}`,
        background: isPicked ? colours.waterPale : colours.pale,
        opacity: shown === false ? 0.55 : 1,
        "& .quiet": { opacity: 0 },
        "&:hover .quiet, &:focus-within .quiet": { opacity: 1 },
      }}
    >
      <Box
        component="button"
        data-row
        aria-pressed={isPicked}
        onClick={(event: React.MouseEvent) => {
          pick({ part, id }, event.shiftKey || event.ctrlKey || event.metaKey);
          if (part === "shots") goTo(id);
        }}
        sx={nameButton}
      >
        {entry.Mark && <entry.Mark id={id} />}
        {name}
      </Box>
      {/* Where there is too little room, the figure gives way before the name does. */}
      <Typography
        variant="caption"
        noWrap
        title={cost}
        sx={{ color: colours.faint, fontSize: 11, flex: "0 1000 auto", pl: 0.5 }}
      >
        {cost}
      </Typography>
      {locked !== undefined && (
        <IconButton
          className={locked ? undefined : "quiet"}
          aria-label={`${locked ? "Unlock" : "Lock"} ${name}`}
          onClick={lock}
          sx={{ p: 0.25 }}
        >
          {locked ? <LockIcon sx={{ fontSize: 15 }} /> : <UnlockIcon sx={{ fontSize: 15 }} />}
        </IconButton>
      )}
      <IconButton className="quiet" aria-label={`Delete ${name}`} onClick={remove} sx={{ p: 0.25 }}>
        <DeleteIcon sx={{ fontSize: 16 }} />
      </IconButton>
      {shown !== undefined && <VisibilityButton shown={shown} name={name} onClick={toggle} />}
    </Box>
  );
});

/** The name of a layer or group: it takes the room that is left, and is cut off where that is too little. */
export const nameButton = {
  ...plainButton,
  flex: "1 1 auto",
  minWidth: 0,
  overflow: "hidden",
  textOverflow: "ellipsis",
  whiteSpace: "nowrap",
} as const;
