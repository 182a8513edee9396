import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Dialog from "@mui/material/Dialog";
import InputBase from "@mui/material/InputBase";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useSite, useVocabulary } from "../api/queries";
import { NameField } from "../forms/NameField";
import { freshStructure } from "../site/layers";
import { letFall, usualDrop } from "../drop/dropping";
import { declaredGroup, declaredKind, shown } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { ImportDialog } from "../transfer/ImportDialog";
import { found, GROUPS, type Item, itemsOf, ownItem, placedBy } from "./items";

interface BrowserProps {
  onClose: () => void;
  /** Where an item is wanted for a mix: what to do with it. */
  onChoose?: (item: Item) => void;
}

/** The kit: everything there is to place, with what each costs. */
export function KitBrowser({ onClose, onChoose }: BrowserProps) {
  const document = useDocument();
  const vocabulary = useVocabulary().data;
  const [search, setSearch] = useState("");
  const [group, setGroup] = useState("");
  const [picked, setPicked] = useState<string | null>(null);
  const [importing, setImporting] = useState(false);
  if (!vocabulary) return null;
  const items = itemsOf(document, vocabulary);
  const some = found(items, search, group);
  const item = items.find((one) => one.kind === picked) ?? null;
  const groups = [...new Set(items.map((one) => one.group))];
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="lg"
      slotProps={{ paper: { "aria-label": "Kit", "aria-labelledby": undefined, sx: { height: "86%" } } }}
    >
      <Box sx={{ display: "grid", gridTemplateRows: "auto minmax(0, 1fr)", height: "100%" }}>
        <Box
          sx={{
            display: "flex",
            flexWrap: "wrap",
            alignItems: "center",
            gap: 0.75,
            px: 1.5,
            py: 1,
            borderBottom: `1px solid ${colours.ink}`,
            background: colours.pale,
          }}
        >
          <Typography component="h2" sx={{ fontWeight: 650, fontSize: 15, mr: 1 }}>
            Kit
          </Typography>
          <InputBase
            placeholder="Find by name or tag"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            inputProps={{ "aria-label": "Find by name or tag" }}
            sx={{ fontSize: 13, width: 150 }}
          />
          {groups.map((one) => (
            <Chip
              key={one}
              size="small"
              label={GROUPS[one]}
              aria-pressed={group === one}
              color={group === one ? "primary" : "default"}
              variant={group === one ? "filled" : "outlined"}
              onClick={() => setGroup(group === one ? "" : one)}
            />
          ))}
          <Box sx={{ flex: 1 }} />
          <Button onClick={() => setImporting(true)}>Import an item …</Button>
          <Button variant="outlined" onClick={onClose}>
            Close
          </Button>
        </Box>
        <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) 290px", minHeight: 0 }}>
          <Box
            role="list"
            aria-label="Items"
            sx={{
              overflowY: "auto",
              p: 1.5,
              display: "grid",
              gridTemplateColumns: "repeat(auto-fill, minmax(148px, 1fr))",
              gap: 1.25,
              alignContent: "start",
            }}
          >
            {some.map((one) => (
              <Card
                key={one.kind}
                item={one}
                picked={one.kind === picked}
                onPick={() => setPicked(one.kind)}
                onUse={() => onChoose?.(one)}
              />
            ))}
            {some.length === 0 && (
              <Typography variant="caption">Nothing of that kind. Clear the search, or import an item.</Typography>
            )}
          </Box>
          <Box
            sx={{
              overflowY: "auto",
              borderLeft: `1px solid ${colours.ruleDark}`,
              background: colours.limestone,
              p: 1.5,
            }}
          >
            {item ? (
              <Details key={item.kind} item={item} onChoose={onChoose} onPick={setPicked} onClose={onClose} />
            ) : (
              <Typography variant="caption">
                Pick an item to see what it is, to set one down in view, or to make it the site's own and change it.
              </Typography>
            )}
          </Box>
        </Box>
      </Box>
      {importing && (
        <ImportDialog
          asItem
          onClose={() => setImporting(false)}
          onItem={(kind) => {
            setPicked(kind);
            setImporting(false);
          }}
        />
      )}
    </Dialog>
  );
}

function Portrait({ item }: { item: Item }) {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  return (
    <img
      loading="lazy"
      alt=""
      src={`/api/sites/${siteId}/kit/${item.kind}/picture${item.own ? `?at=${revision}` : ""}`}
      width="100%"
      style={{ display: "block", aspectRatio: "5 / 4", background: "#f4f0e4" }}
    />
  );
}

function Card({ item, picked, onPick, onUse }: { item: Item; picked: boolean; onPick: () => void; onUse: () => void }) {
  return (
    <Box
      role="listitem"
      sx={{
        background: colours.pale,
        border: `1px solid ${picked ? colours.water : colours.rule}`,
        outline: picked ? `1px solid ${colours.water}` : "none",
      }}
    >
      <Box
        component="button"
        aria-pressed={picked}
        onClick={onPick}
        onDoubleClick={onUse}
        sx={{
          font: "inherit",
          fontSize: 12.5,
          textAlign: "left",
          p: 0,
          width: "100%",
          cursor: "pointer",
          color: colours.ink,
          background: "none",
          border: 0,
        }}
      >
        <Portrait item={item} />
        <Box component="b" sx={{ display: "block", px: 0.75, pt: 0.5, fontWeight: 600 }}>
          {item.title}
        </Box>
      </Box>
      <Typography
        variant="caption"
        component="div"
        noWrap
        sx={{ px: 0.75, pb: 0.5, color: colours.faint, fontSize: 11 }}
      >
        {item.size.length ? `${shown(item.size[1], 0.01)} m high` : item.help}
        {item.triangles.length > 0 && ` · ${item.triangles[0].toLocaleString("en-GB")} tri`}
      </Typography>
    </Box>
  );
}

interface DetailsProps extends BrowserProps {
  item: Item;
  onPick: (kind: string | null) => void;
}

function Details({ item, onChoose, onPick, onClose }: DetailsProps) {
  const { siteId, editor, stage } = useSiteContext();
  const document = useDocument();
  const row = document.kit.findIndex((one) => one.id === item.kind);
  const users = placedBy(item.kind, document);
  const setDown = () => {
    const made = freshStructure(document, item.title, { kind: "kit_piece", item: item.kind, variant: 0 }, stage.spot());
    editor.commit(`Set down ${made.name}`, [{ op: "add", path: "/structures/-", value: made }]);
    useView.getState().present({ part: "structures", id: made.id });
    onClose();
  };
  const makeOwn = () => {
    const own = ownItem(item, document);
    editor.commit(`Make ${own.name}`, [{ op: "add", path: "/kit/-", value: own }]);
    onPick(own.id);
  };
  return (
    <Box sx={{ display: "grid", gap: 0.75 }}>
      <Portrait item={item} />
      {item.own ? <NameField name={item.title} path={`/kit/${row}`} /> : <b>{item.title}</b>}
      <Typography variant="caption">{item.help}</Typography>
      <Typography variant="caption" sx={{ color: colours.faint }}>
        {item.size.length > 0 && `${item.size.map((side) => shown(side, 0.01)).join(" × ")} m. `}
        {item.variants} variant{item.variants > 1 ? "s" : ""}.{" "}
        {item.triangles.length > 0 &&
          `${item.triangles.map((count) => count.toLocaleString("en-GB")).join(", ")} triangles: near, farther, far.`}
      </Typography>
      <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap" }}>
        {item.tags.map((tag) => (
          <Chip key={tag} label={tag} size="small" variant="outlined" />
        ))}
      </Box>
      {users.length > 0 && <Typography variant="caption">Placed by {users.join(", ")}.</Typography>}
      {onChoose && (
        <Button variant="contained" onClick={() => onChoose(item)}>
          Add to the mix
        </Button>
      )}
      {!item.grows && (
        <Button variant={onChoose ? "text" : "contained"} onClick={setDown}>
          Set one down in view
        </Button>
      )}
      {!item.grows && !onChoose && (
        <Button
          onClick={() => {
            void letFall(siteId, editor, document, { drop: usualDrop(item.kind, 8), position: stage.spot() });
            onClose();
          }}
        >
          Drop eight in view
        </Button>
      )}
      {!item.own && (item.adjustable || item.grows) && (
        <Button onClick={makeOwn}>Make it the site's own, to change it</Button>
      )}
      {item.own && (
        <>
          <DeclaredForm
            subject={item.title}
            path={`/kit/${row}/source`}
            declared={declaredKind(document.kit[row].source.kind)}
            value={document.kit[row].source as unknown as Record<string, unknown>}
          />
          {item.grows && (
            <DeclaredForm
              subject={item.title}
              path={`/kit/${row}`}
              declared={declaredGroup("OwnItem")}
              value={document.kit[row] as unknown as Record<string, unknown>}
              without={["id", "name", "source"]}
            />
          )}
          <Button
            color="secondary"
            disabled={users.length > 0}
            onClick={() => {
              editor.commit(`Delete ${item.title}`, [{ op: "remove", path: `/kit/${row}` }]);
              onPick(null);
            }}
          >
            Delete
          </Button>
        </>
      )}
    </Box>
  );
}
