import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import List from "@mui/material/List";
import ListItem from "@mui/material/ListItem";
import ListItemText from "@mui/material/ListItemText";
import Typography from "@mui/material/Typography";
import { useDeleteMadeFile, useMadeFiles } from "../api/queries";
import { useSiteContext } from "../site/context";

const DAY = new Intl.DateTimeFormat(undefined, { dateStyle: "medium" });
const WHEN = new Intl.DateTimeFormat(undefined, { dateStyle: "medium", timeStyle: "short" });

/** Files that were written for this site before and can still be fetched. */
export function MadeFiles({ besides }: { besides?: string }) {
  const { siteId } = useSiteContext();
  const { data } = useMadeFiles(siteId);
  const remove = useDeleteMadeFile(siteId);
  const files = (data ?? []).filter((file) => file.job !== besides);
  if (!files.length) return null;
  return (
    <section aria-label="Written before">
      <Typography variant="caption" component="h3" sx={{ m: 0 }}>
        Written before
      </Typography>
      {remove.isError && <Alert severity="error">{remove.error.message}</Alert>}
      <List dense disablePadding sx={{ maxHeight: 168, overflow: "auto" }}>
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
    </section>
  );
}
