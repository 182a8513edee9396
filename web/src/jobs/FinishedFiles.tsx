import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import List from "@mui/material/List";
import ListItem from "@mui/material/ListItem";
import ListItemText from "@mui/material/ListItemText";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useDeleteMadeFile, useMadeFiles } from "../api/queries";
import { useSiteContext } from "../site/context";

const DAY = new Intl.DateTimeFormat(undefined, { dateStyle: "medium" });
const WHEN = new Intl.DateTimeFormat(undefined, { dateStyle: "medium", timeStyle: "short" });

/** Where all files wait that were written for this site: opened from the top of the page, which tells how many there are. */
export function FinishedFiles() {
  const { siteId } = useSiteContext();
  const { data } = useMadeFiles(siteId);
  const [open, setOpen] = useState(false);
  const count = data?.length ?? 0;
  return (
    <>
      <Button onClick={() => setOpen(true)}>{count ? `Files (${count})` : "Files"}</Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="sm">
        <DialogTitle>Finished files</DialogTitle>
        <DialogContent>
          <FileList />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** Files that can still be fetched, newest first. */
function FileList() {
  const { siteId } = useSiteContext();
  const { data } = useMadeFiles(siteId);
  const remove = useDeleteMadeFile(siteId);
  const files = data ?? [];
  if (!files.length)
    return (
      <Typography variant="body2">
        None yet. What is exported, and texture sets that are written, wait here for a week.
      </Typography>
    );
  return (
    <>
      {remove.isError && <Alert severity="error">{remove.error.message}</Alert>}
      <List dense disablePadding>
        {files.map((file) => (
          <ListItem
            key={file.job}
            disableGutters
            secondaryAction={
              <>
                <Button
                  size="small"
                  href={`/api/jobs/${file.job}/file`}
                  aria-label={`Fetch ${file.title}${file.ending} of ${WHEN.format(new Date(file.made))}`}
                >
                  Fetch
                </Button>
                <Button
                  size="small"
                  color="secondary"
                  disabled={remove.isPending}
                  onClick={() => remove.mutate(file.job)}
                  aria-label={`Delete ${file.title}${file.ending} of ${WHEN.format(new Date(file.made))}`}
                >
                  Delete
                </Button>
              </>
            }
          >
            <ListItemText
              primary={`${file.title}${file.ending}`}
              secondary={[
                file.about,
                `${(file.bytes / 1e6).toFixed(1)} MB`,
                `waits until ${DAY.format(new Date(file.until))}`,
              ]
                .filter(Boolean)
                .join(" · ")}
            />
          </ListItem>
        ))}
      </List>
    </>
  );
}
