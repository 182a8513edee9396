import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import Tooltip from "@mui/material/Tooltip";
import { useEffect, useState } from "react";
import type { SurfaceEntry } from "../api/client";
import { duplicates, freshGroup, objectsOf, removals, seatOperation, setAll, setDown } from "../place/actions";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";

/** What can be done to picked objects, one or several. */
export function ObjectActions({ ids, surface }: { ids: string[]; surface?: SurfaceEntry }) {
  const { editor, stage } = useSiteContext();
  const document = useDocument();
  const { pick, set } = useView.getState();
  const objects = objectsOf(document, ids);
  const words = objects.length === 1 ? objects[0].name : `${objects.length} objects`;
  const allLocked = objects.every((one) => one.locked);
  const allShadow = objects.every((one) => one.only_shadow);
  const allShown = objects.every((one) => one.shown);
  const group = objects.every((one) => one.group === objects[0].group) ? (objects[0]?.group ?? "") : null;
  const duplicate = () => {
    const made = duplicates(document, ids);
    editor.commit(`Duplicate ${words}`, made.operations);
    set({ picked: { part: "structures", id: made.ids[0] }, alsoPicked: made.ids.slice(1) });
  };
  const down = () => {
    const free = objects.filter((one) => !one.locked).map((one) => one.id);
    const operations = stage.scene ? setDown(stage.scene, document, free) : [];
    if (operations.length) editor.commit(`Set down ${words}`, operations);
    else set({ notice: { tone: "info", text: "There is nothing under it to be set down on, or it is locked." } });
  };
  return (
    <Box
      role="group"
      aria-label="Actions"
      sx={{ display: "flex", flexWrap: "wrap", columnGap: 0.5, alignItems: "center" }}
    >
      <Button onClick={duplicate}>Duplicate</Button>
      <Button onClick={down}>Set down</Button>
      {surface && objects.length === 1 && (
        <Tooltip title="Level the ground under it, with a band that blends into the ground around it">
          <Button onClick={() => editor.commit(`Seat ${words} in the ground`, [seatOperation(objects[0], surface)])}>
            Seat in the ground
          </Button>
        </Tooltip>
      )}
      <Button
        onClick={() =>
          editor.commit(`${allShown ? "Hide" : "Show"} ${words}`, setAll(document, ids, "shown", !allShown))
        }
      >
        {allShown ? "Hide" : "Show"}
      </Button>
      <Tooltip describeChild title="What is locked is not picked in the view, nor moved">
        <Button
          onClick={() =>
            editor.commit(`${allLocked ? "Unlock" : "Lock"} ${words}`, setAll(document, ids, "locked", !allLocked))
          }
        >
          {allLocked ? "Unlock" : "Lock"}
        </Button>
      </Tooltip>
      <Tooltip
        describeChild
        title="An obstacle to the light: it is not seen, measured, weathered or exported, but casts its shadow"
      >
        <Button
          onClick={() =>
            editor.commit(
              `${words}: ${allShadow ? "seen again" : "only its shadow"}`,
              setAll(document, ids, "only_shadow", !allShadow),
            )
          }
        >
          {allShadow ? "Seen again" : "Only its shadow"}
        </Button>
      </Tooltip>
      <Button
        color="secondary"
        onClick={() => {
          editor.commit(`Delete ${words}`, removals(document, ids));
          pick(null);
        }}
      >
        Delete
      </Button>
      {objects.length > 1 && !group && (
        <Button
          onClick={() => {
            const name = freshGroup(document);
            editor.commit(`Group ${words} as ${name}`, setAll(document, ids, "group", name));
          }}
        >
          Group
        </Button>
      )}
      {group && <GroupName key={group} group={group} ids={ids} />}
    </Box>
  );
}

/** The group of what is picked: typed over it is renamed, emptied the objects leave it. */
function GroupName({ group, ids }: { group: string; ids: string[] }) {
  const { editor } = useSiteContext();
  const document = useDocument();
  const [name, setName] = useState(group);
  useEffect(() => setName(group), [group]);
  const all = document.structures.filter((one) => one.group === group).map((one) => one.id);
  const rename = () => {
    const wanted = name.trim().slice(0, 60);
    if (wanted === group) return;
    if (wanted) editor.commit(`Rename group ${group} to ${wanted}`, setAll(document, all, "group", wanted));
    else setName(group);
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, fontSize: 13, color: colours.faint }}>
      in group
      <InputBase
        value={name}
        onChange={(event) => setName(event.target.value)}
        onBlur={rename}
        onKeyDown={(event) => event.key === "Enter" && rename()}
        inputProps={{ "aria-label": "Group", maxLength: 60 }}
        sx={{ fontSize: 13, fontWeight: 600, width: 130, "& input": { p: 0 } }}
      />
      <Button onClick={() => editor.commit(`Take out of group ${group}`, setAll(document, ids, "group", ""))}>
        Take out
      </Button>
    </Box>
  );
}
