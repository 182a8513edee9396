import CloseIcon from "@mui/icons-material/Close";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import IconButton from "@mui/material/IconButton";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import type { Scatter } from "../api/client";
import { freshId } from "../site/layers";
import { declaredGroup, defaultsOfGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { NumberField } from "../forms/NumberField";
import { changes, idOf, placedOf, removals, repick } from "../planting/hand";
import type { Point } from "../site/poses";
import { useSiteContext, useChange } from "../site/context";
import { type ItemTool, itemToolIn } from "../site/inHand";
import { useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { Heading, Section } from "./parts";
import { StrokeTools } from "./StrokeTools";

const TOOLS: { tool: ItemTool["tool"]; label: string; help: string }[] = [
  { tool: "plant", label: "Plant one", help: "Click where one is to stand; the kinds of the mix come in turn." },
  { tool: "pick", label: "Pick", help: "Click items to pick them; Shift adds one." },
  { tool: "loop", label: "Loop", help: "Draw round items to pick them; Shift adds them." },
];

interface Props {
  layer: Scatter;
  path: string;
  named: (kind: string) => string;
}

/** What is done to a scatter by hand: sowing and thinning, planting one by one, rows, and what was picked. */
export function HandSection({ layer, path, named }: Props) {
  const tool = useView(itemToolIn);
  const { take } = useView.getState();
  useEffect(
    () => () => {
      if (itemToolIn(useView.getState())) take(null);
      useView.setState({ placed: [] });
    },
    [layer.id, take],
  );
  const takeTool = (wanted: ItemTool["tool"]) =>
    take(tool?.tool === wanted ? null : { what: "items", tool: wanted, layer: layer.id });
  const drawRow = () =>
    take({
      what: "trace",
      draws: "line",
      path: `${path}/rows/-`,
      name: "path",
      sets: {},
      label: `${layer.name}: set a row`,
      adds: { ...defaultsOfGroup("Row"), id: freshId("row") },
      frame: null,
      points: [],
    });
  const touched = layer.planted.length + layer.removed.length;
  return (
    <Section title="by hand" tone={partColours.planting}>
      <Box sx={{ width: 216 }}>
        <StrokeTools
          tools={["sow", "thin"]}
          path={`${path}/strokes`}
          subject={layer.name}
          strokes={layer.strokes.length}
        />
        <Box role="group" aria-label="Single items" sx={{ display: "flex", gap: 0.5, my: 0.75, flexWrap: "wrap" }}>
          {TOOLS.map(({ tool: one, label, help }) => (
            <Chip
              key={one}
              size="small"
              label={label}
              title={help}
              aria-pressed={tool?.tool === one}
              color={tool?.tool === one ? "primary" : "default"}
              variant={tool?.tool === one ? "filled" : "outlined"}
              onClick={() => takeTool(one)}
            />
          ))}
          <Chip
            size="small"
            variant="outlined"
            label="Set a row"
            title="Draw a line to stand along."
            onClick={drawRow}
          />
        </Box>
        {tool && (
          <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
            {TOOLS.find((one) => one.tool === tool.tool)?.help} Escape puts it down.
          </Typography>
        )}
        <PickedItems {...{ layer, path, named }} />
        <Rows layer={layer} path={path} />
        {touched > 0 && (
          <Typography variant="caption" component="p" data-testid="by-hand" sx={{ color: colours.faint, m: 0 }}>
            {layer.planted.length} planted or changed by hand, {layer.removed.length} taken away. Rules leave them so.
          </Typography>
        )}
      </Box>
    </Section>
  );
}

/** What can be done with the items that are picked. */
function PickedItems({ layer, path, named }: Props) {
  const { stage } = useSiteContext();
  const change = useChange();
  const ids = useView((state) => state.placed);
  const { set } = useView.getState();
  useView((state) => state.tableTicket);
  const placements = stage.placed.get(layer.id);
  const remove = () => {
    if (!placements) return;
    const operations = removals(layer, path, placedOf(placements, ids));
    if (operations.length) change.now(`${layer.name}: take ${ids.length} away`, operations);
    set({ placed: [] });
  };
  useEffect(() => {
    if (!ids.length) return;
    const down = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea, [role=combobox]")) return;
      if (event.key !== "Delete" && event.key !== "Backspace") return;
      event.preventDefault();
      remove();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  });
  if (!ids.length || !placements) return null;
  const items = placedOf(placements, ids);
  const alter = (label: string, how: Parameters<typeof changes>[3]) => {
    repick(
      layer.id,
      items.map((one) => one.position),
    );
    change.now(`${layer.name}: ${label}`, changes(layer, path, items, how));
  };
  const kinds = [...new Set(items.map((one) => one.item))];
  const alike = () => {
    const wanted = new Set(kinds);
    const found: string[] = [];
    for (let row = 0; row < placements.item.length && found.length < 5000; row++)
      if (wanted.has(placements.meta.items[placements.item[row]])) found.push(idOf(placements, row));
    set({ placed: found });
  };
  const one = items[0];
  return (
    <Box role="group" aria-label="Picked items" sx={{ borderTop: `1px solid ${colours.rule}`, py: 0.5 }}>
      <Typography variant="caption" component="div" data-testid="picked-items">
        {ids.length === 1 && one ? named(one.item) : `${ids.length.toLocaleString("en-GB")} items picked`}
      </Typography>
      <TextField
        select
        label="Swap for"
        value={kinds.length === 1 ? kinds[0] : ""}
        onChange={(event) => alter("swap items", () => ({ item: event.target.value }))}
        slotProps={{ htmlInput: { "aria-label": "Swap for" } }}
        sx={{ mt: 0.5, minWidth: 140 }}
      >
        {layer.mix.map((entry) => (
          <MenuItem key={entry.item} value={entry.item} dense>
            {named(entry.item)}
          </MenuItem>
        ))}
      </TextField>
      {items.length === 1 && one ? (
        <SingleItem {...{ layer, path, items }} />
      ) : (
        <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap", mt: 0.5 }}>
          <Button
            onClick={() => alter("larger", ({ size }) => ({ size: Math.min(10, Number((size * 1.15).toFixed(3))) }))}
          >
            15 % larger
          </Button>
          <Button
            onClick={() => alter("smaller", ({ size }) => ({ size: Math.max(0.05, Number((size / 1.15).toFixed(3))) }))}
          >
            15 % smaller
          </Button>
          <Button onClick={() => alter("turn", ({ turn }) => ({ turn: ((turn + 75 + 180) % 360) - 180 }))}>Turn</Button>
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap" }}>
        <Button onClick={alike}>All of {kinds.length === 1 ? "this kind" : "these kinds"}</Button>
        <Button color="secondary" onClick={remove}>
          Delete items
        </Button>
        <Button onClick={() => set({ placed: [] })}>Pick none</Button>
      </Box>
    </Box>
  );
}

/** Place, turn and size of one item, in numbers. */
function SingleItem({ layer, path, items }: { layer: Scatter; path: string; items: ReturnType<typeof placedOf> }) {
  const change = useChange();
  const now = changes(layer, path, items, () => ({}))[0].value as Scatter["planted"];
  const one =
    now.find((entry) => entry.instead === items[0].id) ??
    now.find((entry) => entry.position.every((value, axis) => Math.abs(value - items[0].position[axis]) < 2e-3));
  if (!one) return null;
  const put = (values: Partial<typeof one>) => {
    repick(layer.id, [values.position ?? one.position] as Point[]);
    return changes(layer, path, items, () => values);
  };
  const label = `${layer.name}: one item`;
  return (
    <>
      {(["x", "y", "z"] as const).map((axis, row) => (
        <NumberField
          key={axis}
          label={`Position, ${axis}`}
          value={one.position[row]}
          low={-1000}
          high={1000}
          step={0.05}
          unit="m"
          onLive={(value) =>
            change.live(label, put({ position: one.position.map((was, k) => (k === row ? value : was)) as never }))
          }
          onSettle={change.settle}
        />
      ))}
      <NumberField
        label="Turn"
        value={one.turn}
        low={-360}
        high={360}
        step={1}
        unit="°"
        onLive={(turn) => change.live(label, put({ turn }))}
        onSettle={change.settle}
      />
      <NumberField
        label="Size"
        value={one.size}
        low={0.05}
        high={10}
        step={0.01}
        unit="×"
        onLive={(size) => change.live(label, put({ size }))}
        onSettle={change.settle}
      />
    </>
  );
}

/** The layer's rows, each with its own form. */
function Rows({ layer, path }: { layer: Scatter; path: string }) {
  const change = useChange();
  return layer.rows.map((row, index) => (
    <Box
      key={row.id}
      role="group"
      aria-label={`Row ${index + 1}`}
      sx={{ borderTop: `1px solid ${colours.rule}`, py: 0.5 }}
    >
      <Box sx={{ display: "flex", alignItems: "center" }}>
        <Box sx={{ flex: 1 }}>
          <Heading text={`Row ${index + 1}, ${row.path.length} points`} />
        </Box>
        <IconButton
          aria-label={`Delete row ${index + 1}`}
          onClick={() => change.now(`${layer.name}: remove a row`, [{ op: "remove", path: `${path}/rows/${index}` }])}
          sx={{ p: 0.25 }}
        >
          <CloseIcon sx={{ fontSize: 15 }} />
        </IconButton>
      </Box>
      <DeclaredForm
        subject={`${layer.name}: row`}
        path={`${path}/rows/${index}`}
        declared={declaredGroup("Row")}
        value={row as unknown as Record<string, unknown>}
        without={["id", "path", row.by === "spacing" ? "number" : "spacing"]}
      />
    </Box>
  ));
}
