import AddIcon from "@mui/icons-material/Add";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import InputBase from "@mui/material/InputBase";
import ListItemText from "@mui/material/ListItemText";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { type ReactNode, useEffect, useState } from "react";
import type { CoverLayer, Scatter, SignalCard, Structure, Vocabulary } from "../api/client";
import { useScene, useSite, useVocabulary } from "../api/queries";
import { mixDefaults } from "../column/layers";
import { declaredGroup, declaredKind, defaultsOf, shown } from "../forms/declared";
import { DeclaredForm, PickField } from "../forms/DeclaredForm";
import { useChange, useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours, partColours } from "../theme";
import { cameraNow } from "../view/Rig";
import { useLayerCount } from "./counts";
import { MaskPicture } from "./MaskPicture";
import { SignalCardView } from "./SignalCardView";
import { useWhereReport, type WhereReport } from "./where";

/** What the picked layer is, read from left to right: what – where – how much. */
export function Bench() {
  const picked = useView((state) => state.picked);
  const document = useDocument();
  const vocabulary = useVocabulary().data;
  let content: ReactNode = null;
  if (vocabulary && picked) {
    const { part, id } = picked;
    if (part === "planting") {
      const index = document.planting.findIndex((layer) => layer.id === id);
      if (index >= 0)
        content = (
          <ScatterBench key={id} layer={document.planting[index]} path={`/planting/${index}`} vocabulary={vocabulary} />
        );
    } else if (part === "weather") {
      const index = document.weather.findIndex((layer) => layer.id === id);
      if (index >= 0)
        content = (
          <CoverBench key={id} layer={document.weather[index]} path={`/weather/${index}`} vocabulary={vocabulary} />
        );
    } else if (part === "structures") {
      const index = document.structures.findIndex((one) => one.id === id);
      if (index >= 0)
        content = <StructureBench key={id} structure={document.structures[index]} path={`/structures/${index}`} />;
    } else if (part === "shots") {
      const index = document.shots.findIndex((one) => one.id === id);
      if (index >= 0) content = <ShotBench index={index} />;
    } else {
      const group = { ground: "Ground", water: "Water", light: "Light" }[part];
      content = (
        <Section title={group} tone={partColours[part]} wide>
          <DeclaredForm
            subject={group}
            path={`/${part}`}
            declared={declaredGroup(group)}
            value={document[part] as Record<string, unknown>}
            without={["colour", "shown"]}
            columns={4}
          />
        </Section>
      );
    }
  }
  return (
    <Box
      component="section"
      aria-label="Bench"
      sx={{
        gridColumn: "1 / -1",
        borderTop: `1px solid ${colours.ink}`,
        background: colours.limestone,
        display: "flex",
        minWidth: 0,
        overflowX: "auto",
        overflowY: "hidden",
      }}
    >
      {content ?? (
        <Typography color="text.secondary" sx={{ m: "auto" }}>
          Pick something in the column or in the view, and it is laid out here: what it is, where it goes, how much of
          it there is.
        </Typography>
      )}
    </Box>
  );
}

function Section({
  title,
  tone,
  children,
  wide,
}: {
  title: ReactNode;
  tone: string;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Box
      sx={{
        borderRight: `1px solid ${colours.ruleDark}`,
        borderTop: `3px solid ${tone}`,
        px: 1.5,
        py: 0.75,
        overflowY: "auto",
        flex: wide ? "1 0 0" : "none",
        minWidth: 0,
      }}
    >
      <Box sx={{ mb: 0.5 }}>{title && (typeof title === "string" ? <Heading text={title} /> : title)}</Box>
      {children}
    </Box>
  );
}

function Heading({ text }: { text: string }) {
  return (
    <Typography variant="caption" sx={{ color: colours.faint, fontWeight: 600 }}>
      {text}
    </Typography>
  );
}

/** A layer's name, to be typed over. */
function NameField({ name, path }: { name: string; path: string }) {
  const { editor } = useSiteContext();
  const [text, setText] = useState(name);
  useEffect(() => setText(name), [name]);
  const finish = () => {
    const wanted = text.trim();
    if (!wanted) setText(name);
    else if (wanted !== name)
      editor.commit(`Rename ${name} to ${wanted}`, [{ op: "replace", path: `${path}/name`, value: wanted }]);
  };
  return (
    <InputBase
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => event.key === "Enter" && finish()}
      inputProps={{ "aria-label": "Name", maxLength: 80 }}
      sx={{ fontWeight: 650, fontSize: 14, "& input": { p: 0 } }}
    />
  );
}

interface LayerProps<Layer> {
  layer: Layer;
  path: string;
  vocabulary: Vocabulary;
}

function useReport(layerId: string) {
  const { siteId } = useSiteContext();
  return useWhereReport(layerId, useSite(siteId).data!.revision);
}

function ScatterBench({ layer, path, vocabulary }: LayerProps<Scatter>) {
  const report = useReport(layer.id);
  const change = useChange();
  const count = useLayerCount(layer.id);
  const declared = declaredGroup("Scatter");
  return (
    <>
      <Section title={<NameField name={layer.name} path={path} />} tone={partColours.planting}>
        <Mix layer={layer} path={path} vocabulary={vocabulary} />
      </Section>
      <WhereSection
        cards={layer.where.cards as SignalCard[]}
        path={`${path}/where/cards`}
        subject={layer.name}
        report={report.data}
        vocabulary={vocabulary}
      />
      <Section title="How much" tone={partColours.planting}>
        <Box sx={{ width: 216 }}>
          <Figure value={count ? count.count.toLocaleString("en-GB") : "…"} unit="items" testId="item-count" />
          <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
            {count ? `${count.triangles.toLocaleString("en-GB")} triangles` : ""}
            {report.data?.meta.area ? ` · mask on ${coverage(report.data)}` : ""}
          </Typography>
          {count?.densest && layer.density > count.densest && (
            <Typography variant="caption" component="div" sx={{ color: colours.oxide }}>
              Spacing allows at most {shown(count.densest, 0.1)} /m².
            </Typography>
          )}
          <DeclaredForm
            subject={layer.name}
            path={path}
            declared={declared}
            value={layer as unknown as Record<string, unknown>}
            without={["shown", "surface", "name", "id"]}
          />
          <PickField
            declared={declared.surface}
            label="Surface"
            value={layer.surface}
            onPick={(value) =>
              change.now(`${layer.name}: surface`, [{ op: "replace", path: `${path}/surface`, value }])
            }
          />
        </Box>
      </Section>
    </>
  );
}

/** The things of a mix, each with its share and how its copies vary. */
function Mix({ layer, path, vocabulary }: LayerProps<Scatter>) {
  const change = useChange();
  const [open, setOpen] = useState<{ anchor: HTMLElement; index: number } | null>(null);
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const total = layer.mix.reduce((sum, entry) => sum + entry.share, 0) || 1;
  const named = (kind: string) => vocabulary.kit.find((item) => item.kind === kind)?.name ?? kind;
  const shownEntry = open && layer.mix[open.index];
  return (
    <Box sx={{ width: 190 }}>
      <Heading text="is a mix of" />
      {layer.mix.map((entry, index) => (
        <Box
          key={`${entry.item}-${index}`}
          component="button"
          onClick={(event) => setOpen({ anchor: event.currentTarget, index })}
          sx={{
            display: "flex",
            width: "100%",
            font: "inherit",
            fontSize: 13,
            textAlign: "left",
            alignItems: "center",
            border: 0,
            borderBottom: `1px solid ${colours.rule}`,
            background: `linear-gradient(90deg, #dfe3cb ${(entry.share / total) * 100}%, transparent 0)`,
            py: 0.5,
            px: 0.5,
            cursor: "pointer",
            color: colours.ink,
          }}
        >
          <span style={{ flex: 1 }}>{named(entry.item)}</span>
          <span style={{ color: colours.faint }}>{Math.round((entry.share / total) * 100)} %</span>
        </Box>
      ))}
      <Button
        startIcon={<AddIcon />}
        onClick={(event) => setAdding(event.currentTarget)}
        disabled={layer.mix.length >= 12}
      >
        Add a kind
      </Button>
      <Menu anchorEl={adding} open={adding !== null} onClose={() => setAdding(null)}>
        {vocabulary.kit.map((item) => (
          <MenuItem
            key={item.kind}
            dense
            onClick={() => {
              change.now(`${layer.name}: add ${item.name}`, [
                { op: "add", path: `${path}/mix/-`, value: { ...mixDefaults(), item: item.kind } },
              ]);
              setAdding(null);
            }}
          >
            <ListItemText
              primary={item.name}
              secondary={`${item.triangles} triangles · ${shown(item.size[1], 0.01)} m high`}
            />
          </MenuItem>
        ))}
      </Menu>
      <Popover
        open={Boolean(shownEntry)}
        anchorEl={open?.anchor}
        onClose={() => setOpen(null)}
        anchorOrigin={{ vertical: "top", horizontal: "right" }}
        transformOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        {open && shownEntry && (
          <Box sx={{ p: 1.5, width: 280 }}>
            <DeclaredForm
              subject={`${layer.name}: ${named(shownEntry.item)}`}
              path={`${path}/mix/${open.index}`}
              declared={declaredGroup("MixItem")}
              value={shownEntry as unknown as Record<string, unknown>}
            />
            <Button
              color="secondary"
              disabled={layer.mix.length < 2}
              onClick={() => {
                change.now(`${layer.name}: remove ${named(shownEntry.item)}`, [
                  { op: "remove", path: `${path}/mix/${open.index}` },
                ]);
                setOpen(null);
              }}
            >
              Remove from the mix
            </Button>
          </Box>
        )}
      </Popover>
    </Box>
  );
}

function CoverBench({ layer, path, vocabulary }: LayerProps<CoverLayer>) {
  const report = useReport(layer.id);
  const document = useDocument();
  const change = useChange();
  const cover = vocabulary.covers.find((entry) => entry.kind === layer.cover.kind);
  const surfaces = [{ id: "ground", name: "Ground" }, ...document.structures.map(({ id, name }) => ({ id, name }))];
  return (
    <>
      <Section title={<NameField name={layer.name} path={path} />} tone={partColours.weather}>
        <Box sx={{ width: 190 }}>
          <Heading text={`is ${cover?.name.toLowerCase() ?? ""}, shared by ${layer.surfaces.length}`} />
          <Select
            multiple
            fullWidth
            value={layer.surfaces as string[]}
            onChange={(event) =>
              change.now(`${layer.name}: surfaces`, [
                { op: "replace", path: `${path}/surfaces`, value: event.target.value },
              ])
            }
            inputProps={{ "aria-label": "Surfaces that share this recipe" }}
            renderValue={(ids) =>
              surfaces
                .filter((one) => ids.includes(one.id))
                .map((one) => one.name)
                .join(", ")
            }
            sx={{ fontSize: 12, height: 28, mb: 0.5 }}
          >
            {surfaces.map((one) => (
              <MenuItem key={one.id} value={one.id} dense>
                {one.name}
              </MenuItem>
            ))}
          </Select>
          <DeclaredForm
            subject={layer.name}
            path={`${path}/cover`}
            declared={declaredKind(layer.cover.kind)}
            value={layer.cover as unknown as Record<string, unknown>}
          />
        </Box>
      </Section>
      <WhereSection
        cards={layer.where.cards as SignalCard[]}
        path={`${path}/where/cards`}
        subject={layer.name}
        report={report.data}
        vocabulary={vocabulary}
      />
      <Section title="How much" tone={partColours.weather}>
        <Box sx={{ width: 200 }}>
          <Figure
            value={report.data?.meta.covered !== undefined ? shown(report.data.meta.covered, 0.1) : "…"}
            unit="m² covered"
            testId="coverage"
          />
          <Typography variant="caption" component="div" sx={{ color: colours.faint, mb: 0.5 }}>
            {report.data?.meta.area
              ? `${coverage(report.data)} of ${shown(report.data.meta.area, 1)} m²`
              : "Measuring …"}
          </Typography>
          <MaskPicture picture={report.data?.whole ?? null} label="Final mask" height={96} />
        </Box>
      </Section>
    </>
  );
}

function coverage(report: WhereReport): string {
  return `${shown(((report.meta.covered ?? 0) / (report.meta.area || 1)) * 100, 0.1)} %`;
}

function Figure({ value, unit, testId }: { value: string; unit: string; testId: string }) {
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 0.75 }}>
      <Typography data-testid={testId} sx={{ fontSize: 24, fontWeight: 650, lineHeight: 1.1 }}>
        {value}
      </Typography>
      <Typography variant="caption">{unit}</Typography>
    </Box>
  );
}

interface WhereProps {
  cards: SignalCard[];
  path: string;
  subject: string;
  report?: WhereReport;
  vocabulary: Vocabulary;
}

/** The chain of cards that says where. */
function WhereSection({ cards, path, subject, report, vocabulary }: WhereProps) {
  const change = useChange();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const add = (signal: Vocabulary["signals"][number]) => {
    const value: SignalCard = {
      id: `${signal.kind}-${Math.random().toString(36).slice(2, 7)}`,
      signal: defaultsOf(signal.kind) as SignalCard["signal"],
      starts_at: signal.starts_at,
      full_at: signal.full_at,
      soft: true,
      inverted: false,
      combine: "multiply",
      enabled: true,
    };
    change.now(`${subject}: add ${signal.name.toLowerCase()}`, [{ op: "add", path: `${path}/-`, value }]);
    setAnchor(null);
  };
  return (
    <Section title={cards.length ? "where" : "everywhere, until a signal says where"} tone={colours.water} wide>
      <Box sx={{ display: "flex", gap: 0.75, overflowX: "auto", pb: 0.5, alignItems: "stretch" }}>
        {cards.map((card, index) => (
          <SignalCardView
            key={card.id}
            {...{ card, index, subject, report, vocabulary }}
            path={`${path}/${index}`}
            onRemove={() =>
              change.now(`${subject}: remove ${card.signal.kind}`, [{ op: "remove", path: `${path}/${index}` }])
            }
          />
        ))}
        <IconButton
          aria-label="Add a signal"
          onClick={(event) => setAnchor(event.currentTarget)}
          disabled={cards.length >= 16}
          sx={{ alignSelf: "center", border: `1px dashed ${colours.ruleDark}` }}
        >
          <AddIcon />
        </IconButton>
        <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
          {vocabulary.signals.map((signal) => (
            <MenuItem key={signal.kind} dense onClick={() => add(signal)} sx={{ maxWidth: 420, whiteSpace: "normal" }}>
              <ListItemText
                primary={signal.name}
                secondary={`${signal.help}${signal.by_rays ? " Measured by rays, once." : ""}`}
              />
            </MenuItem>
          ))}
        </Menu>
      </Box>
    </Section>
  );
}

function StructureBench({ structure, path }: { structure: Structure; path: string }) {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const texel = useView((state) => state.texel);
  const surface = useScene(siteId, revision, texel, true).data?.surfaces.find((one) => one.id === structure.id);
  const document = useDocument();
  const recipes = document.weather.filter((layer) => layer.surfaces.includes(structure.id));
  return (
    <>
      <Section title={<NameField name={structure.name} path={path} />} tone={partColours.structures} wide>
        {structure.source.kind === "made" ? (
          <DeclaredForm
            subject={structure.name}
            path={`${path}/source/maker`}
            declared={declaredKind(structure.source.maker.kind)}
            value={structure.source.maker as unknown as Record<string, unknown>}
            columns={3}
          />
        ) : (
          <Typography color="text.secondary">From the file {structure.source.file_name}.</Typography>
        )}
      </Section>
      <Section title="stands at" tone={colours.water}>
        <Box sx={{ width: 260 }}>
          <DeclaredForm
            subject={structure.name}
            path={`${path}/placement`}
            declared={declaredGroup("Placement")}
            value={structure.placement as unknown as Record<string, unknown>}
          />
        </Box>
      </Section>
      <Section title="How much" tone={partColours.structures}>
        <Box sx={{ width: 200 }}>
          {surface && (
            <>
              <Figure value={shown(surface.area, 0.1)} unit="m² of surface" testId="surface-area" />
              <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
                {surface.triangles.toLocaleString("en-GB")} triangles · {(surface.texels / 1e6).toFixed(2)} million
                texels of {shown(surface.texel * 100, 0.1)} cm
              </Typography>
            </>
          )}
          <Typography variant="caption" component="div" sx={{ mt: 1 }}>
            {recipes.length
              ? `Weathered by ${recipes.map((layer) => layer.name).join(", ")}.`
              : "No weathering yet: add a cover, or share one."}
          </Typography>
        </Box>
      </Section>
    </>
  );
}

function ShotBench({ index }: { index: number }) {
  const document = useDocument();
  const { editor } = useSiteContext();
  const shot = document.shots[index];
  const path = `/shots/${index}`;
  return (
    <Section title={<NameField name={shot.name} path={path} />} tone={partColours.shots} wide>
      <DeclaredForm
        subject={shot.name}
        path={path}
        declared={declaredGroup("Shot")}
        value={shot as unknown as Record<string, unknown>}
        without={["position", "target"]}
        columns={3}
      />
      <Button
        onClick={() =>
          editor.commit(`${shot.name}: take this view`, [
            { op: "replace", path, value: { ...shot, ...cameraNow.shot } },
          ])
        }
      >
        Take the view as it is now
      </Button>
    </Section>
  );
}
