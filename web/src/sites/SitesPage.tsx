import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type FormEvent, useState } from "react";
import { Link, useNavigate } from "react-router";
import { inWords, type SiteSummary } from "../api/client";
import { useSession, useSignOut, useSiteActions, useSites } from "../api/queries";
import { colours } from "../theme/theme";
import { Storage } from "./Storage";

interface Naming {
  site: SiteSummary | null;
  name: string;
}

/** All sites of the user, with their pictures. */
export function SitesPage() {
  const sites = useSites();
  const session = useSession();
  const signOut = useSignOut();
  const { create, rename, duplicate, remove, restore } = useSiteActions();
  const [naming, setNaming] = useState<Naming | null>(null);
  const [removed, setRemoved] = useState<SiteSummary | null>(null);
  const navigate = useNavigate();
  const failed = [create, rename, duplicate, remove, restore].find((action) => action.isError)?.error ?? sites.error;

  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!naming?.name.trim()) return;
    // What is refused stays open, with what was typed.
    const onSuccess = () => setNaming(null);
    if (naming.site) rename.mutate({ id: naming.site.id, name: naming.name }, { onSuccess });
    else create.mutate(naming.name, { onSuccess: (made) => (onSuccess(), void navigate(`/sites/${made.id}`)) });
  };
  const refused = naming && (naming.site ? rename : create).error;
  const begin = (site: SiteSummary | null, name: string) => {
    create.reset();
    rename.reset();
    setNaming({ site, name });
  };

  return (
    <Box component="main" sx={{ minHeight: "100%", px: 5, py: 3, maxWidth: 1280, mx: "auto" }}>
      <Box
        component="header"
        sx={{ display: "flex", alignItems: "center", gap: 1.5, borderBottom: `1px solid ${colours.ink}`, pb: 1.5 }}
      >
        <img src="/mark.svg" alt="" width={30} height={30} />
        <Typography variant="h1">Sites</Typography>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={() => begin(null, "")}>
          New site
        </Button>
        <Typography color="text.secondary">{session.data?.user}</Typography>
        <Button onClick={() => signOut.mutate()}>Sign out</Button>
      </Box>
      {failed && !naming && (
        <Alert severity="error" sx={{ mt: 2 }}>
          {inWords(failed)}
        </Alert>
      )}
      {sites.data?.length === 0 && (
        <Typography sx={{ mt: 6 }} color="text.secondary">
          No sites yet. Make one: it begins with a piece of uneven ground, ready to be planted.
        </Typography>
      )}
      <Box
        component="ul"
        sx={{
          listStyle: "none",
          p: 0,
          mt: 3,
          display: "grid",
          gap: 3,
          gridTemplateColumns: "repeat(auto-fill, minmax(340px, 1fr))",
        }}
      >
        {sites.data?.map((site) => (
          <Box
            component="li"
            key={site.id}
            sx={{
              position: "relative",
              border: `1px solid ${colours.rule}`,
              background: colours.pale,
              borderRadius: 1,
              overflow: "hidden",
              "&:hover": { borderColor: colours.water },
            }}
          >
            <Box
              component={Link}
              to={`/sites/${site.id}`}
              sx={{
                display: "block",
                aspectRatio: "8 / 5",
                background: colours.rule,
                // All of the card opens the site, but for its buttons.
                "&::after": { content: '""', position: "absolute", inset: 0 },
              }}
              aria-label={`Open ${site.name}`}
            >
              {site.thumbnail && (
                <img
                  src={site.thumbnail}
                  alt=""
                  style={{ width: "100%", height: "100%", objectFit: "cover", display: "block" }}
                />
              )}
            </Box>
            {!site.thumbnail && (
              <Typography sx={{ position: "absolute", top: 0, p: 2, color: colours.faint }}>
                Its picture is being drawn …
              </Typography>
            )}
            <Box sx={{ px: 2, pt: 1.25, display: "flex", alignItems: "baseline" }}>
              <Typography variant="h2" sx={{ flex: 1 }}>
                {site.name}
              </Typography>
              <Typography variant="body2" color="text.secondary">
                {site.structures} structures · {site.layers} layers
              </Typography>
            </Box>
            <Box sx={{ px: 1, pb: 0.75, display: "flex", alignItems: "center", "& button": { zIndex: 1 } }}>
              <Button onClick={() => begin(site, site.name)}>Rename</Button>
              <Button onClick={() => duplicate.mutate(site.id)}>Duplicate</Button>
              <Button color="secondary" onClick={() => remove.mutate(site.id, { onSuccess: () => setRemoved(site) })}>
                Delete
              </Button>
              <Box sx={{ flex: 1 }} />
              <Typography variant="caption" color="text.secondary" sx={{ pr: 1 }}>
                {new Date(site.modified).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}
              </Typography>
            </Box>
          </Box>
        ))}
      </Box>
      <Storage />
      <Dialog open={naming !== null} onClose={() => setNaming(null)} fullWidth maxWidth="xs">
        <form onSubmit={submit}>
          <DialogTitle>{naming?.site ? "Rename site" : "New site"}</DialogTitle>
          <DialogContent>
            <TextField
              label="Name"
              // eslint-disable-next-line jsx-a11y/no-autofocus -- a dialog begins at its one field
              autoFocus
              fullWidth
              margin="dense"
              value={naming?.name ?? ""}
              onChange={(e) => setNaming((now) => now && { ...now, name: e.target.value })}
              error={Boolean(refused)}
              helperText={refused ? inWords(refused) : undefined}
              slotProps={{ htmlInput: { maxLength: 120 } }}
            />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setNaming(null)}>Cancel</Button>
            <Button type="submit" variant="contained" disabled={!naming?.name.trim()}>
              {naming?.site ? "Rename" : "Make it"}
            </Button>
          </DialogActions>
        </form>
      </Dialog>
      <Snackbar
        open={removed !== null}
        autoHideDuration={20_000}
        onClose={(_, reason) => reason !== "clickaway" && setRemoved(null)}
        message={`“${removed?.name}” was deleted.`}
        action={
          <Button
            color="inherit"
            onClick={() => removed && restore.mutate(removed.id, { onSuccess: () => setRemoved(null) })}
          >
            Undo
          </Button>
        }
      />
    </Box>
  );
}
