import AddIcon from "@mui/icons-material/Add";
import DeleteIcon from "@mui/icons-material/DeleteOutline";
import EyeIcon from "@mui/icons-material/VisibilityOutlined";
import EyeOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { SceneManifest, SiteDocument, Vocabulary } from "../api/client";
import { useScene, useSite, useVocabulary } from "../api/queries";
import { ImportDialog } from "../transfer/ImportDialog";
import { useDocument, useSiteContext } from "../site/context";
import { type Part, useView } from "../site/store";
import { colours, partColours } from "../theme";
import { cameraNow } from "../view/Rig";
import { newCover, newScatter, newStructure, PARTS, type PartEntry, removal } from "./layers";

/** The site as it is built, from the ground upward: one stack of bands. */
export function Column() {
  const { siteId } = useSiteContext();
  const document = useDocument();
  const revision = useSite(siteId).data!.revision;
  const texel = useView((state) => state.texel);
  const scene = useScene(siteId, revision, texel, true).data;
  const vocabulary = useVocabulary().data;
  const [search, setSearch] = useState("");
  return (
    <Box
      component="nav"
      aria-label="Column"
      sx={{ overflowY: "auto", borderRight: `1px solid ${colours.ruleDark}`, background: colours.limestone }}
    >
      <InputBase
        placeholder="Find a layer"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
        inputProps={{ "aria-label": "Find a layer" }}
        sx={{ px: 1.5, py: 0.25, width: "100%", borderBottom: `1px solid ${colours.rule}`, fontSize: 13 }}
      />
      {[...PARTS].reverse().map((entry) => (
        <PartBands key={entry.part} {...{ entry, document, scene, vocabulary, search }} />
      ))}
    </Box>
  );
}

interface BandsProps {
  entry: PartEntry;
  document: SiteDocument;
  scene?: SceneManifest;
  vocabulary?: Vocabulary;
  search: string;
}

/** What a layer costs, in a few characters. */
function costOf(part: Part, id: string, document: SiteDocument, scene?: SceneManifest): string {
  if (part === "structures") {
    const surface = scene?.surfaces.find((one) => one.id === id);
    return surface ? `${surface.triangles.toLocaleString("en-GB")} tri` : "";
  }
  if (part === "weather") {
    const layer = document.weather.find((one) => one.id === id)!;
    return `shared by ${layer.surfaces.length}`;
  }
  if (part === "planting") {
    const layer = document.planting.find((one) => one.id === id)!;
    return `${layer.density.toLocaleString("en-GB")} /m²`;
  }
  return "";
}

function PartBands({ entry, document, scene, vocabulary, search }: BandsProps) {
  const { part, name, list } = entry;
  const { editor } = useSiteContext();
  const picked = useView((state) => state.picked);
  const { pick, goTo, set } = useView.getState();
  const number = PARTS.indexOf(entry) + 1;
  const layers = list ? document[list].map((layer, index) => ({ layer, index })) : [];
  const found = layers.filter(({ layer }) => layer.name.toLowerCase().includes(search.trim().toLowerCase()));
  const tone = partColours[part];

  const remove = (index: number) => {
    editor.commit(`Delete ${document[list!][index].name}`, removal(document, list!, index));
    pick(null);
  };
  const toggle = (index: number) => {
    const layer = document[list!][index] as { name: string; shown?: boolean };
    editor.commit(`${layer.shown ? "Hide" : "Show"} ${layer.name}`, [
      { op: "replace", path: `/${list}/${index}/shown`, value: !layer.shown },
    ]);
  };

  return (
    <Box component="section" aria-label={name} sx={{ borderBottom: `1px solid ${colours.ruleDark}` }}>
      <Box
        sx={{ display: "flex", alignItems: "center", pl: 1.5, pr: 0.5, minHeight: 28, borderLeft: `5px solid ${tone}` }}
      >
        <Box
          component="button"
          onClick={() => (list ? undefined : pick({ part }))}
          aria-pressed={!list && picked?.part === part}
          sx={{
            ...plainButton,
            flex: 1,
            fontWeight: 650,
            fontSize: 13,
            cursor: list ? "default" : "pointer",
            color: !list && picked?.part === part ? colours.water : colours.ink,
          }}
        >
          {name}
        </Box>
        <Typography variant="caption" sx={{ color: colours.faint, mr: 0.5 }}>
          {number}
        </Typography>
        {part === "water" && (
          <VisibilityButton
            shown={document.water.shown}
            name="Water"
            onClick={() =>
              editor.commit("Water on or off", [{ op: "replace", path: "/water/shown", value: !document.water.shown }])
            }
          />
        )}
        {vocabulary && (part === "structures" || part === "planting" || part === "weather") && (
          <AddMenu part={part} document={document} vocabulary={vocabulary} />
        )}
      </Box>
      {list && (
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {found.map(({ layer, index }) => {
            const isPicked = picked?.part === part && picked.id === layer.id;
            const shown = "shown" in layer ? layer.shown : true;
            return (
              <Box
                component="li"
                key={layer.id}
                sx={{
                  display: "flex",
                  alignItems: "center",
                  pl: 2,
                  pr: 0.5,
                  minHeight: 26,
                  borderTop: `1px solid ${colours.rule}`,
                  borderLeft: `5px solid ${tone}`,
                  background: isPicked ? colours.waterPale : colours.pale,
                  opacity: shown ? 1 : 0.55,
                  "& .quiet": { opacity: 0 },
                  "&:hover .quiet, &:focus-within .quiet": { opacity: 1 },
                }}
              >
                <Box
                  component="button"
                  aria-pressed={isPicked}
                  onClick={() => {
                    pick({ part, id: layer.id });
                    if (part === "shots") {
                      goTo(layer.id);
                      set({ shotId: layer.id });
                    }
                  }}
                  sx={{
                    ...plainButton,
                    flex: 1,
                    minWidth: 0,
                    overflow: "hidden",
                    textOverflow: "ellipsis",
                    whiteSpace: "nowrap",
                  }}
                >
                  {layer.name}
                </Box>
                <Typography variant="caption" noWrap sx={{ color: colours.faint, fontSize: 11 }}>
                  {costOf(part, layer.id, document, scene)}
                </Typography>
                <IconButton
                  className="quiet"
                  aria-label={`Delete ${layer.name}`}
                  onClick={() => remove(index)}
                  sx={{ p: 0.25 }}
                >
                  <DeleteIcon sx={{ fontSize: 16 }} />
                </IconButton>
                {"shown" in layer && <VisibilityButton shown={shown} name={layer.name} onClick={() => toggle(index)} />}
              </Box>
            );
          })}
          {layers.length === 0 && (
            <Typography
              component="li"
              variant="caption"
              sx={{ pl: 2.5, py: 0.5, display: "block", color: colours.faint, borderLeft: `5px solid ${tone}` }}
            >
              {EMPTY[part]}
            </Typography>
          )}
        </Box>
      )}
    </Box>
  );
}

const EMPTY: Partial<Record<Part, string>> = {
  structures: "Nothing stands here yet. Add with +.",
  planting: "Nothing grows here yet. Add with +.",
  weather: "All clean and new. Add moss with +.",
  shots: "Keep a view to have a shot.",
};

const plainButton = {
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

function VisibilityButton({ shown, name, onClick }: { shown: boolean; name: string; onClick: () => void }) {
  return (
    <IconButton aria-label={shown ? `Hide ${name}` : `Show ${name}`} onClick={onClick} sx={{ p: 0.25 }}>
      {shown ? <EyeIcon sx={{ fontSize: 16 }} /> : <EyeOffIcon sx={{ fontSize: 16 }} />}
    </IconButton>
  );
}

/** What can be added to a part. */
function AddMenu({
  part,
  document,
  vocabulary,
}: {
  part: "structures" | "planting" | "weather";
  document: SiteDocument;
  vocabulary: Vocabulary;
}) {
  const { editor } = useSiteContext();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [importing, setImporting] = useState(false);
  const { pick } = useView.getState();
  const add = (list: string, value: { id: string; name: string }) => {
    editor.commit(`Add ${value.name}`, [{ op: "add", path: `/${list}/-`, value }]);
    pick({ part, id: value.id });
    setAnchor(null);
  };
  const surfaces = [{ id: "ground", name: "Ground" }, ...document.structures.map(({ id, name }) => ({ id, name }))];
  const label = { structures: "Add a structure", planting: "Add a scatter", weather: "Add a cover" }[part];
  return (
    <>
      <Tooltip title={label}>
        <IconButton aria-label={label} onClick={(event) => setAnchor(event.currentTarget)} sx={{ p: 0.25 }}>
          <AddIcon sx={{ fontSize: 18 }} />
        </IconButton>
      </Tooltip>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {part === "structures" && [
          <MenuItem
            key="import"
            dense
            onClick={() => {
              setAnchor(null);
              setImporting(true);
            }}
          >
            Import a GLB or OBJ …
          </MenuItem>,
          ...vocabulary.makers.map((maker) => (
            <MenuItem
              key={maker.kind}
              dense
              onClick={() => add("structures", newStructure(document, vocabulary, maker.kind, cameraNow.spot()))}
            >
              {maker.name}
            </MenuItem>
          )),
        ]}
        {part === "planting" &&
          surfaces.map((surface) => (
            <MenuItem
              key={surface.id}
              dense
              onClick={() => add("planting", newScatter(document, vocabulary, surface.id))}
            >
              Scatter over {surface.name}
            </MenuItem>
          ))}
        {part === "weather" &&
          vocabulary.covers.map((cover) => (
            <MenuItem
              key={cover.kind}
              dense
              onClick={() =>
                add(
                  "weather",
                  newCover(
                    document,
                    vocabulary,
                    cover.kind,
                    document.structures.map((one) => one.id),
                  ),
                )
              }
            >
              {cover.name} on all structures
            </MenuItem>
          ))}
      </Menu>
      {importing && <ImportDialog onClose={() => setImporting(false)} />}
    </>
  );
}
