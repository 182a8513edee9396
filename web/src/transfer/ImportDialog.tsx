import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import DialogTitle from "@mui/material/DialogTitle";
import LinearProgress from "@mui/material/LinearProgress";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changeHeaders, client, type ImportState, problemOf, unwrap } from "../api/client";
import { freshStructure } from "../site/layers";
import { shown } from "../api/declared";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { ChooseFile } from "../forms/ChooseFile";

const UNITS = { m: "metres", cm: "centimetres", mm: "millimetres", in: "inches", ft: "feet" };
type Unit = keyof typeof UNITS;

interface ImportProps {
  onClose: () => void;
  /** Whether the mesh becomes a kit item in place of an object. */
  asItem?: boolean;
  onItem?: (kind: string) => void;
}

/** Bring in an own mesh: choose the file, see its size in metres, then set it down. */
export function ImportDialog({ onClose, asItem, onItem }: ImportProps) {
  const { siteId, editor, stage } = useSiteContext();
  const document = useDocument();
  const queries = useQueryClient();
  const [id, setId] = useState<string | null>(null);
  const [unit, setUnit] = useState<Unit>("m");
  const [up, setUp] = useState<"y" | "z">("y");
  const key = ["import", siteId, id];
  const [lives, setLives] = useState(false);
  const upload = useMutation({
    mutationFn: async (file: File) => {
      const body = new FormData();
      body.append("unit", unit);
      body.append("up", up);
      body.append("file", file);
      const response = await fetch(`/api/sites/${siteId}/imports`, { method: "POST", headers: changeHeaders(), body });
      if (!response.ok) throw await problemOf(response);
      return (await response.json()) as ImportState;
    },
    onSuccess: (state) => setId(state.id),
  });
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      unwrap(
        client.GET("/api/sites/{site_id}/imports/{import_id}", {
          params: { path: { site_id: siteId, import_id: id! } },
        }),
      ),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data?.state === "inspecting" ? 700 : false),
  });
  const choose = async (next: { unit: Unit; up: "y" | "z" }) => {
    setUnit(next.unit);
    setUp(next.up);
    if (!id) return;
    const state = await unwrap(
      client.PATCH("/api/sites/{site_id}/imports/{import_id}", {
        params: { path: { site_id: siteId, import_id: id } },
        body: next,
      }),
    );
    queries.setQueryData(key, state);
  };
  const state = found.data;
  const accept = () => {
    const name = state!.file_name.replace(/\.[^.]+$/, "").slice(0, 70) || "Import";
    const { mesh, textures, file_name } = state!;
    if (asItem) {
      const id = `own-${state!.id.slice(0, 8)}`;
      const source = { kind: "imported_item", mesh, textures, lives, file_name, material: "planed_timber" };
      editor.commit(`Import ${name} into the kit`, [{ op: "add", path: "/kit/-", value: { id, name, source } }]);
      onItem?.(id);
      return;
    }
    const made = freshStructure(document, name, { kind: "imported", mesh, textures, file_name }, stage.spot());
    editor.commit(`Import ${made.name}`, [{ op: "add", path: "/structures/-", value: made }]);
    useView.getState().present({ part: "structures", id: made.id });
    onClose();
  };
  const busy = upload.isPending || state?.state === "inspecting";
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Import a mesh</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.5 }}>
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", pt: 1 }}>
          <ChooseFile
            label="File of a mesh"
            accept=".glb,.obj,.ply,.stl,.zip"
            variant="outlined"
            sx={{ flex: "none" }}
            onChoose={([file]) => upload.mutate(file)}
          >
            Choose a file
          </ChooseFile>
          <Typography color="text.secondary">
            GLB, OBJ, PLY or STL, or a zip with one of them, its materials and pictures; up to 200 MB and a million
            triangles.{" "}
            {asItem
              ? "A kit item shows the colours and cut-outs of its textures; without any, it takes a material of the site."
              : "Textures and colours come along."}
          </Typography>
        </Box>
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <TextField
            select
            label="One unit of the file is"
            value={unit}
            onChange={(event) => void choose({ unit: event.target.value as Unit, up })}
            sx={{ flex: 1 }}
          >
            {Object.entries(UNITS).map(([value, name]) => (
              <MenuItem key={value} value={value}>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Upward axis"
            value={up}
            onChange={(event) => void choose({ unit, up: event.target.value as "y" | "z" })}
            sx={{ flex: 1 }}
          >
            <MenuItem value="y">Y</MenuItem>
            <MenuItem value="z">Z</MenuItem>
          </TextField>
        </Box>
        {busy && <LinearProgress aria-label="Reading the file" />}
        {upload.isError && <Alert severity="error">{upload.error.message}</Alert>}
        {state?.state === "refused" && <Alert severity="error">{state.message}</Alert>}
        {state?.state === "ready" && (
          <Box data-testid="import-size">
            <Typography variant="h2">{state.file_name}</Typography>
            <Typography>
              {state.size.map((length) => `${shown(length, length < 1 ? 0.001 : 0.01)} m`).join(" × ")} (wide × high ×
              deep), {state.triangles.toLocaleString("en-GB")} triangles
            </Typography>
            {asItem && (
              <FormControlLabel
                control={<Switch checked={lives} onChange={(_, on) => setLives(on)} />}
                label="It is a plant: seasons colour it, wind bends it, light comes through"
              />
            )}
            {!asItem && state.wrapped > 0 && (
              <Typography>
                {state.wrapped === 1 ? "One part has" : `${state.wrapped.toLocaleString("en-GB")} parts have`} textures
                or colours of {state.wrapped === 1 ? "its" : "their"} own. Weather comes to lie upon them.
              </Typography>
            )}
            <Typography color="text.secondary">A door is about 2 m high, a person 1.7 m.</Typography>
            {state.remarks.map((remark) => (
              <Alert key={remark} severity="warning" sx={{ mt: 1 }}>
                {remark}
              </Alert>
            ))}
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={state?.state !== "ready"} onClick={accept}>
          {asItem ? "Add it to the kit" : "Set it down"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
