import AddIcon from "@mui/icons-material/Add";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Tooltip from "@mui/material/Tooltip";
import { memo, useState } from "react";
import type { Vocabulary } from "../api/client";
import type { AddEntry, PartModule } from "../parts/part";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";

interface Props {
  part: PartModule;
  vocabulary: Vocabulary;
}

/** What can be added to a part. */
export const AddMenu = memo(function AddMenu({ part, vocabulary }: Props) {
  const { siteId, editor, stage } = useSiteContext();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [dialog, setDialog] = useState<AddEntry["dialog"] | null>(null);
  const { label, entries } = part.add!;
  const add = (value: { id: string; name: string }) => {
    editor.commit(`Add ${value.name}`, [{ op: "add", path: `/${part.list}/-`, value }]);
    useView.getState().present({ part: part.part, id: value.id });
  };
  const choose = ({ act, dialog }: AddEntry) => {
    setAnchor(null);
    act?.();
    if (dialog) setDialog(() => dialog);
  };
  // Read when the menu opens or something is chosen, so that a change elsewhere does not draw it anew.
  const document = () => editor.state()!.document;
  return (
    <>
      <Tooltip title={label}>
        <IconButton
          aria-label={label}
          data-add
          aria-keyshortcuts="+"
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{ p: 0.25 }}
        >
          <AddIcon sx={{ fontSize: 18 }} />
        </IconButton>
      </Tooltip>
      {/* What was added has the focus then; else the button has it again. */}
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        disableRestoreFocus={useView((state) => state.toBench)}
      >
        {anchor &&
          entries({ siteId, editor, stage, vocabulary, document, add }).map((entry) => (
            <MenuItem key={entry.key} dense onClick={() => choose(entry)}>
              {entry.title}
            </MenuItem>
          ))}
      </Menu>
      {dialog?.(() => setDialog(null))}
    </>
  );
});
