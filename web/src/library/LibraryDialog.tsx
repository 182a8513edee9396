import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import InputBase from "@mui/material/InputBase";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { inWords, type Vocabulary } from "../api/client";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { Deleted } from "./Deleted";
import { coverFrom, type LibraryEntry, useLibrary, useLibraryActions } from "./library";

/** Recipes that were kept, to lay over this site's structures. */
export function LibraryDialog({ vocabulary, onClose }: { vocabulary: Vocabulary; onClose: () => void }) {
  const { siteId, editor } = useSiteContext();
  const library = useLibrary(siteId);
  const { rename, remove, restore } = useLibraryActions();
  const [removed, setRemoved] = useState<LibraryEntry | null>(null);
  const failed = [library, rename, remove, restore].find((one) => one.isError)?.error;
  const use = (entry: LibraryEntry) => {
    const document = editor.state()!.document;
    const surfaces = document.structures.map((one) => one.id);
    const layer = coverFrom(document, vocabulary, entry, surfaces);
    editor.commit(`Add ${layer.name} from the library`, [{ op: "add", path: "/weather/-", value: layer }]);
    useView.getState().present({ part: "weather", id: layer.id });
    if (entry.left_out.length) useView.getState().set({ notice: { tone: "info", text: entry.left_out.join(" ") } });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Covers in the library</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1 }}>
        {library.isPending && <LinearProgress aria-label="Fetching the library" />}
        {failed && <Alert severity="error">{inWords(failed)}</Alert>}
        {removed && (
          <Deleted
            name={removed.name}
            remark="Sites that use it keep their own."
            onUndo={() => restore.mutate(removed.id, { onSuccess: () => setRemoved(null) })}
          />
        )}
        {library.data?.length === 0 && (
          <Typography variant="body2">
            Nothing is kept yet. Pick a cover in the column and press “Keep in library” on its bench: it is then here
            for all your sites.
          </Typography>
        )}
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {library.data?.map((entry) => (
            <Box
              component="li"
              key={entry.id}
              sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.5, borderBottom: `1px solid ${colours.rule}` }}
            >
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <EntryName entry={entry} onName={(name) => rename.mutate({ id: entry.id, name })} />
                <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
                  {vocabulary.covers.find((cover) => cover.kind === entry.cover)?.title}
                  {entry.site && ` · from ${entry.site}`}
                </Typography>
                {entry.left_out.map((words) => (
                  <Typography key={words} variant="caption" component="div">
                    {words}
                  </Typography>
                ))}
              </Box>
              <Button
                size="small"
                aria-label={`Delete ${entry.name}`}
                onClick={() => remove.mutate(entry.id, { onSuccess: () => setRemoved(entry) })}
              >
                Delete
              </Button>
              <Button
                size="small"
                variant="outlined"
                aria-label={`Lay over all structures: ${entry.name}`}
                onClick={() => use(entry)}
              >
                Lay over all structures
              </Button>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function EntryName({ entry, onName }: { entry: LibraryEntry; onName: (name: string) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const settle = () => {
    const name = draft?.trim();
    if (name && name !== entry.name) onName(name);
    setDraft(null);
  };
  return (
    <InputBase
      value={draft ?? entry.name}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => event.key === "Enter" && settle()}
      inputProps={{ "aria-label": `Name of ${entry.name}`, maxLength: 80 }}
      fullWidth
      sx={{ fontWeight: 600, fontSize: 14 }}
    />
  );
}
