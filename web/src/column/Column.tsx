import Box from "@mui/material/Box";
import InputBase from "@mui/material/InputBase";
import Typography from "@mui/material/Typography";
import { Fragment, useRef, useState } from "react";
import type { SceneManifest, SiteDocument, Structure, Vocabulary } from "../api/client";
import { useScene, useSite, useVocabulary } from "../api/queries";
import { KeepFocus } from "../forms/KeepFocus";
import { useRoving } from "../forms/useRoving";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { AddMenu } from "./AddMenu";
import { GroupRow } from "./GroupRow";
import { plainButton, VisibilityButton } from "../forms/VisibilityButton";
import { LayerRow } from "./LayerRow";
import type { PartModule } from "../parts/part";
import { digitOf, PARTS } from "../parts/registry";
import { grouped, type Layer } from "../site/layers";

/** The site as it is built, from the ground upward: one stack of bands. */
export function Column() {
  const { siteId } = useSiteContext();
  const document = useDocument();
  const revision = useSite(siteId).data!.revision;
  const scene = useScene(siteId, revision, true).data;
  const vocabulary = useVocabulary().data;
  const [search, setSearch] = useState("");
  const bands = useRef<HTMLDivElement>(null);
  useRoving(bands);
  return (
    <KeepFocus
      component="nav"
      aria-label="Column"
      data-region
      sx={{ overflowY: "auto", borderRight: `1px solid ${colours.ruleDark}`, background: colours.limestone }}
    >
      <InputBase
        placeholder="Find a layer"
        value={search}
        onChange={(event) => setSearch(event.target.value)}
        inputProps={{ "aria-label": "Find a layer" }}
        sx={{ px: 1.5, py: 0.25, width: "100%", borderBottom: `1px solid ${colours.rule}`, fontSize: 13 }}
      />
      <Box ref={bands}>
        {[...PARTS].reverse().map((entry) => (
          <PartBands key={entry.part} {...{ entry, document, scene, vocabulary, search }} />
        ))}
      </Box>
    </KeepFocus>
  );
}

interface BandsProps {
  entry: PartModule;
  document: SiteDocument;
  scene?: SceneManifest;
  vocabulary?: Vocabulary;
  search: string;
}

function PartBands({ entry, document, scene, vocabulary, search }: BandsProps) {
  const { part, name, list, tone } = entry;
  const picked = useView((state) => state.picked);
  const { pick } = useView.getState();
  const digit = digitOf(entry);
  const layers: Layer[] = list ? document[list] : [];
  const wanted = search.trim().toLowerCase();
  const found = layers.filter(
    ({ name, group }) => name.toLowerCase().includes(wanted) || (wanted && group?.toLowerCase().includes(wanted)),
  );
  const [closed, setClosed] = useState<string[]>([]);
  const [folded, setFolded] = useState(false);
  const open = !folded || wanted !== "";
  // What is searched for is not hidden in a closed group.
  const isOpen = (group: string) => wanted !== "" || !closed.includes(group);
  const toggle = (group: string) =>
    setClosed(closed.includes(group) ? closed.filter((one) => one !== group) : [...closed, group]);

  return (
    <Box
      role="group"
      aria-label={name}
      data-part={part}
      onKeyDown={(event: React.KeyboardEvent<HTMLElement>) => {
        if (event.key === "+") event.currentTarget.querySelector<HTMLElement>("[data-add]")?.click();
      }}
      sx={{ borderBottom: `1px solid ${colours.ruleDark}` }}
    >
      <Box
        data-line
        sx={{ display: "flex", alignItems: "center", pl: 1.5, pr: 0.5, minHeight: 28, borderLeft: `5px solid ${tone}` }}
      >
        <Box
          component="button"
          onClick={() => (list ? setFolded(!folded) : pick({ part }))}
          {...(list ? { "aria-expanded": open } : { "aria-pressed": picked?.part === part })}
          aria-keyshortcuts={digit}
          sx={{
            ...plainButton,
            flex: 1,
            fontWeight: 650,
            fontSize: 13,
            color: !list && picked?.part === part ? colours.water : colours.ink,
          }}
        >
          {name}
        </Box>
        {digit && (
          <Box component="kbd" aria-hidden title={`Key ${digit}`} sx={keyCap}>
            {digit}
          </Box>
        )}
        {list && (
          <Typography
            variant="caption"
            title={`${layers.length} in all`}
            sx={{ color: colours.faint, ml: 0.75, mr: 0.5 }}
          >
            {layers.length}
          </Typography>
        )}
        {entry.hides && <WholeVisibility entry={entry} document={document} />}
        {vocabulary && entry.add && <AddMenu part={entry} vocabulary={vocabulary} />}
      </Box>
      {list && open && (
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {grouped(found).map(({ group, members }) => (
            <Fragment key={group ? `group ${group}` : members[0].id}>
              {group && (
                <GroupRow
                  name={group}
                  members={members as Structure[]}
                  tone={tone}
                  open={isOpen(group)}
                  onToggle={() => toggle(group)}
                />
              )}
              {(!group || isOpen(group)) &&
                members.map((layer) => (
                  <LayerRow
                    key={layer.id}
                    entry={entry}
                    id={layer.id}
                    name={layer.name}
                    shown={"shown" in layer ? layer.shown : undefined}
                    locked={"locked" in layer ? layer.locked : undefined}
                    inset={group !== ""}
                    cost={entry.cost?.(layer.id, document, scene) ?? ""}
                  />
                ))}
            </Fragment>
          ))}
          {layers.length === 0 && (
            <Typography
              component="li"
              variant="caption"
              sx={{ pl: 2.5, py: 0.5, display: "block", color: colours.faint, borderLeft: `5px solid ${tone}` }}
            >
              {entry.empty}
            </Typography>
          )}
        </Box>
      )}
    </Box>
  );
}

/** A key of the keyboard, told apart from figures by its cap. */
const keyCap = {
  font: "inherit",
  fontSize: 10,
  lineHeight: "14px",
  minWidth: 14,
  textAlign: "center",
  color: colours.faint,
  border: `1px solid ${colours.rule}`,
  borderRadius: "3px",
} as const;

/** Shows or hides all of a part. */
function WholeVisibility({ entry: { part, name }, document }: { entry: PartModule; document: SiteDocument }) {
  const { editor } = useSiteContext();
  const { shown } = document[part] as { shown: boolean };
  return (
    <VisibilityButton
      shown={shown}
      name={name}
      onClick={() => editor.commit(`${name} on or off`, [{ op: "replace", path: `/${part}/shown`, value: !shown }])}
    />
  );
}
