import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import InputBase from "@mui/material/InputBase";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { client, unwrap } from "../api/client";
import { uploadSet, useSite, useVocabulary } from "../api/queries";
import { NameField } from "../forms/NameField";
import { declaredKind } from "../api/declared";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { isGoing, JobProgress } from "../jobs/JobProgress";
import { useStartedJob } from "../jobs/useStartedJob";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { LayerStack } from "./LayerStack";
import { MaterialPreview } from "./MaterialPreview";
import { ChooseFile } from "../forms/ChooseFile";
import { type Entry, entriesOf, freshMaterialName, grouped, type OwnMaterial, ownFrom } from "./recipes";

/** Materials: all there are, one of them in light, and what it is made of. */
export function MaterialBench({ onClose }: { onClose: () => void }) {
  const document = useDocument();
  const vocabulary = useVocabulary().data;
  const [picked, setPicked] = useState("brick");
  const [search, setSearch] = useState("");
  if (!vocabulary) return null;
  const entries = entriesOf(document, vocabulary);
  const entry = entries.find((one) => one.kind === picked) ?? entries[0];
  return (
    <Dialog
      fullScreen
      open
      onClose={onClose}
      slotProps={{ paper: { "aria-label": "Materials", "aria-labelledby": undefined } }}
    >
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "236px minmax(0, 1fr) 330px",
          gridTemplateRows: "44px minmax(0, 1fr)",
          height: "100%",
        }}
      >
        <Box
          component="header"
          sx={{
            gridColumn: "1 / -1",
            display: "flex",
            alignItems: "center",
            gap: 1.5,
            px: 1.5,
            borderBottom: `1px solid ${colours.ink}`,
            background: colours.pale,
          }}
        >
          <Typography component="h2" sx={{ fontWeight: 650, fontSize: 15 }}>
            Materials
          </Typography>
          <InputBase
            placeholder="Find a material"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            inputProps={{ "aria-label": "Find a material" }}
            sx={{ fontSize: 13, width: 180 }}
          />
          <Box sx={{ flex: 1 }} />
          <ImportSet onImported={setPicked} />
          <Button variant="outlined" onClick={onClose}>
            Back to the site
          </Button>
        </Box>
        <MaterialList groups={grouped(entries, search)} picked={entry.kind} onPick={setPicked} />
        <MaterialPreview key={entry.kind} entry={entry} />
        <Box
          sx={{
            overflowY: "auto",
            borderLeft: `1px solid ${colours.ruleDark}`,
            background: colours.limestone,
            p: 1.25,
          }}
        >
          <Details key={entry.kind} entry={entry} onPick={setPicked} />
        </Box>
      </Box>
    </Dialog>
  );
}

function MaterialList({
  groups,
  picked,
  onPick,
}: {
  groups: [string, Entry[]][];
  picked: string;
  onPick: (kind: string) => void;
}) {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  return (
    <Box
      component="nav"
      aria-label="All materials"
      sx={{ overflowY: "auto", borderRight: `1px solid ${colours.ruleDark}`, background: colours.limestone }}
    >
      {groups.length === 0 && (
        <Typography variant="caption" sx={{ p: 1.5, display: "block" }}>
          No material of that name. Clear the search to see all.
        </Typography>
      )}
      {groups.map(([group, entries]) => (
        <Box
          key={group}
          component="section"
          aria-label={group}
          sx={{ borderBottom: `1px solid ${colours.ruleDark}`, p: 1 }}
        >
          <Typography variant="caption" sx={{ fontWeight: 650 }}>
            {group}
          </Typography>
          <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 0.75 }}>
            {entries.map((entry) => (
              <Box
                key={entry.kind}
                component="button"
                aria-pressed={entry.kind === picked}
                onClick={() => onPick(entry.kind)}
                sx={{
                  font: "inherit",
                  fontSize: 11,
                  p: 0,
                  border: 0,
                  background: "none",
                  cursor: "pointer",
                  color: colours.ink,
                  minWidth: 0,
                  outline: entry.kind === picked ? `2px solid ${colours.water}` : "none",
                  outlineOffset: 1,
                }}
              >
                <img
                  loading="lazy"
                  src={`/api/sites/${siteId}/materials/${entry.kind}/picture${entry.own ? `?at=${revision}` : ""}`}
                  alt=""
                  width="100%"
                  style={{ display: "block", aspectRatio: "1", background: colours.rule }}
                />
                <span style={{ display: "block", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
                  {entry.title}
                </span>
              </Box>
            ))}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** What the picked material is, and what can be done with it. */
function Details({ entry, onPick }: { entry: Entry; onPick: (kind: string) => void }) {
  const { editor } = useSiteContext();
  const document = useDocument();
  const row = document.materials.findIndex((one) => one.id === entry.kind);
  const makeOwn = () => {
    const own = ownFrom(entry, document);
    editor.commit(`Make ${own.name}`, [{ op: "add", path: "/materials/-", value: own }]);
    onPick(own.id);
  };
  const used = usersOf(entry.kind, document);
  return (
    <>
      {entry.own ? (
        <NameField name={entry.title} path={`/materials/${row}`} />
      ) : (
        <Typography sx={{ fontWeight: 650, fontSize: 14 }}>{entry.title}</Typography>
      )}
      <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
        {entry.help}
      </Typography>
      <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
        {used.length ? `Used by ${used.join(", ")}.` : "Not used on this site by choice of a part."}
      </Typography>
      {entry.own && (
        <DeclaredForm
          subject={entry.title}
          path={`/materials/${row}`}
          declared={declaredGroup("OwnMaterial")}
          value={document.materials[row] as unknown as Record<string, unknown>}
          without={["id", "name", "source"]}
        />
      )}
      <Box sx={{ display: "flex", gap: 1, my: 0.5, flexWrap: "wrap" }}>
        {entry.recipe && (
          <Button variant={entry.own ? "text" : "contained"} onClick={makeOwn}>
            {entry.own ? "Copy" : "Make it the site's own, to change it"}
          </Button>
        )}
        {entry.own && (
          <Button
            color="secondary"
            disabled={used.length > 0}
            onClick={() => {
              editor.commit(`Delete ${entry.title}`, [{ op: "remove", path: `/materials/${row}` }]);
              onPick("brick");
            }}
          >
            Delete
          </Button>
        )}
      </Box>
      <ExportSet entry={entry} />
      {entry.recipe ? (
        <LayerStack recipe={entry.recipe} path={entry.own ? `/materials/${row}/source` : null} subject={entry.title} />
      ) : (
        <DeclaredForm
          subject={entry.title}
          path={`/materials/${row}/source`}
          declared={declaredKind("texture_set")}
          value={document.materials[row].source as unknown as Record<string, unknown>}
        />
      )}
    </>
  );
}

/** Names of what uses a material. */
function usersOf(kind: string, document: ReturnType<typeof useDocument>): string[] {
  const names = document.structures.filter((one) => Object.values(one.materials).includes(kind)).map((one) => one.name);
  if (document.ground.material === kind) names.unshift("the ground");
  for (const item of document.kit)
    if (item.source.kind === "imported_item" && item.source.material === kind) names.push(item.name);
  return names;
}

/** Write all channels as files. */
function ExportSet({ entry }: { entry: Entry }) {
  const { siteId } = useSiteContext();
  const [pixels, setPixels] = useState<512 | 1024 | 2048 | 4096>(2048);
  const [format, setFormat] = useState<"png" | "exr">("png");
  const { start, job } = useStartedJob(() =>
    unwrap(
      client.POST("/api/sites/{site_id}/materials/{kind}/textures", {
        params: { path: { site_id: siteId, kind: entry.kind } },
        body: { pixels, format },
      }),
    ),
  );
  return (
    <Box sx={{ borderTop: `1px solid ${colours.rule}`, borderBottom: `1px solid ${colours.rule}`, py: 0.5 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <TextField
          select
          value={pixels}
          onChange={(event) => setPixels(Number(event.target.value) as typeof pixels)}
          slotProps={{ htmlInput: { "aria-label": "Pixels a side" } }}
        >
          {[512, 1024, 2048, 4096].map((one) => (
            <MenuItem key={one} value={one} dense>
              {one} px
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          value={format}
          onChange={(event) => setFormat(event.target.value as typeof format)}
          slotProps={{ htmlInput: { "aria-label": "File format" } }}
        >
          <MenuItem value="png" dense>
            PNG
          </MenuItem>
          <MenuItem value="exr" dense>
            EXR
          </MenuItem>
        </TextField>
        <Button disabled={isGoing(job)} onClick={() => start.mutate()}>
          Write textures
        </Button>
      </Box>
      {start.isError && <Alert severity="error">{start.error.message}</Alert>}
      {job && <JobProgress job={job} what="Writing textures" />}
    </Box>
  );
}

/** Bring a texture set from files, told apart by their names. */
function ImportSet({ onImported }: { onImported: (kind: string) => void }) {
  const { siteId, editor } = useSiteContext();
  const document = useDocument();
  const upload = useMutation({
    mutationFn: (files: File[]) => uploadSet(siteId, files),
    onSuccess: (found, files) => {
      const own: OwnMaterial = {
        id: `own-${Date.now().toString(36)}`,
        name: freshMaterialName(files[0].name.replace(/[._-].*$/, "") || "Texture set", document),
        nature: "stone",
        source: {
          kind: "texture_set",
          maps: found.maps,
          file_names: found.file_names,
          size: 2,
          depth: 0.01,
          uneven: 0.1,
          laying: "repeated",
        },
      };
      editor.commit(`Import ${own.name}`, [{ op: "add", path: "/materials/-", value: own }]);
      onImported(own.id);
      useView.getState().set({
        notice: { tone: "info", text: `Read ${Object.keys(found.channels).join(", ")}. ${found.remarks.join(" ")}` },
      });
    },
  });
  return (
    <>
      {upload.isError && (
        <Alert severity="error" sx={{ py: 0 }} onClose={() => upload.reset()}>
          {upload.error.message}
        </Alert>
      )}
      <ChooseFile
        label="Files of a texture set"
        accept="image/*,.tif,.tiff"
        multiple
        disabled={upload.isPending}
        onChoose={(files) => upload.mutate(files)}
      >
        Import a texture set …
      </ChooseFile>
    </>
  );
}
