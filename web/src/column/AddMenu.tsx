import AddIcon from "@mui/icons-material/Add";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Tooltip from "@mui/material/Tooltip";
import { memo, useState } from "react";
import type { Vocabulary } from "../api/client";
import { letFall, usualDrop } from "../drop/dropping";
import { LibraryDialog } from "../library/LibraryDialog";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { ImportDialog } from "../transfer/ImportDialog";
import { cameraNow } from "../view/Rig";
import { newCover, newScatter, newStructure, newZone } from "../site/layers";

/** What can be added to a part. */
export const AddMenu = memo(function AddMenu({
  part,
  vocabulary,
}: {
  part: "zones" | "structures" | "planting" | "weather";
  vocabulary: Vocabulary;
}) {
  const { siteId, editor } = useSiteContext();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [importing, setImporting] = useState(false);
  const [browsing, setBrowsing] = useState(false);
  const { pick } = useView.getState();
  const add = (list: string, value: { id: string; name: string }) => {
    editor.commit(`Add ${value.name}`, [{ op: "add", path: `/${list}/-`, value }]);
    pick({ part, id: value.id });
    setAnchor(null);
  };
  // Read when something is chosen, so that a change elsewhere does not draw the menu anew.
  const document = () => editor.state()!.document;
  const surfaces = () => [
    { id: "ground", name: "Ground" },
    ...document().structures.map(({ id, name }) => ({ id, name })),
  ];
  const label = {
    zones: "Add a zone",
    structures: "Add a structure",
    planting: "Add a scatter",
    weather: "Add a cover",
  }[part];
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
          <MenuItem
            key="drop"
            dense
            onClick={() => {
              setAnchor(null);
              const drop = usualDrop("plank", 12);
              void letFall(siteId, editor, document(), { drop, position: cameraNow.spot() });
            }}
          >
            Drop a heap of planks in view
          </MenuItem>,
          ...vocabulary.makers.map((maker) => (
            <MenuItem
              key={maker.kind}
              dense
              onClick={() => add("structures", newStructure(document(), vocabulary, maker.kind, cameraNow.spot()))}
            >
              {maker.title}
            </MenuItem>
          )),
        ]}
        {part === "zones" && (
          <MenuItem dense onClick={() => add("zones", newZone(document(), cameraNow.spot()))}>
            A round zone in view
          </MenuItem>
        )}
        {part === "planting" &&
          anchor &&
          surfaces().map((surface) => (
            <MenuItem
              key={surface.id}
              dense
              onClick={() => add("planting", newScatter(document(), vocabulary, surface.id))}
            >
              Scatter over {surface.name}
            </MenuItem>
          ))}
        {part === "weather" && (
          <MenuItem
            dense
            onClick={() => {
              setAnchor(null);
              setBrowsing(true);
            }}
          >
            From the library …
          </MenuItem>
        )}
        {part === "weather" &&
          vocabulary.covers.map((cover) => (
            <MenuItem
              key={cover.kind}
              dense
              onClick={() =>
                add(
                  "weather",
                  newCover(
                    document(),
                    vocabulary,
                    cover.kind,
                    document().structures.map((one) => one.id),
                  ),
                )
              }
            >
              {cover.title} on all structures
            </MenuItem>
          ))}
      </Menu>
      {browsing && <LibraryDialog vocabulary={vocabulary} onClose={() => setBrowsing(false)} />}
      {importing && <ImportDialog onClose={() => setImporting(false)} />}
    </>
  );
});
