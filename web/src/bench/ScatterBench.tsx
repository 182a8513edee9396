import AddIcon from "@mui/icons-material/Add";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useCallback, useState } from "react";
import type { Scatter, Vocabulary } from "../api/client";
import { mixDefaults } from "../site/layers";
import { declaredGroup, shown } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { KitBrowser } from "../kit/KitBrowser";
import { useChange, useDocument } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { BudgetBar } from "./BudgetBar";
import { ClearSection } from "./ClearSection";
import { useLayerCount } from "./counts";
import { HandSection } from "./HandSection";
import { MaskPicture } from "./MaskPicture";
import { MatchForm } from "./MatchForm";
import { NameField } from "../forms/NameField";
import { Figure, Heading, type LayerProps, Note, Section } from "./parts";
import { coverage, useReport } from "./where";
import { WhereSection } from "./WhereSection";

/** A scatter: the mix – where – how many. */
export function ScatterBench({ layer, path, vocabulary }: LayerProps<Scatter>) {
  const [of, setOf] = useState("where");
  const report = useReport(layer.id, of);
  const count = useLayerCount(layer.id);
  const declared = declaredGroup("Scatter");
  const named = useNamed(vocabulary);
  const masks = [
    { value: "where", label: "where it comes", chain: layer.where },
    { value: "size_where", label: "where it is large", chain: layer.size_where },
    ...layer.mix.map((entry, row) => ({
      value: `mix/${row}/where`,
      label: `where ${named(entry.item).toLowerCase()} comes`,
      chain: entry.where,
    })),
  ];
  const mask = masks.find((one) => one.value === of) ?? masks[0];
  return (
    <>
      <Section title={<NameField name={layer.name} path={path} />} tone={partColours.planting}>
        <Mix layer={layer} path={path} named={named} />
      </Section>
      <WhereSection
        where={mask.chain}
        path={`${path}/${mask.value}`}
        subject={layer.name}
        report={report.data}
        vocabulary={vocabulary}
        masks={masks.map(({ value, label, chain }) => ({ value, label, cards: chain.cards.length }))}
        of={mask.value}
        onMask={setOf}
      />
      <Section title="How much" tone={partColours.planting}>
        {/* The numbers lie beside what they come to, so that all of both is in sight. */}
        <Box sx={{ display: "flex", gap: 2 }}>
          <Box sx={{ width: 184 }}>
            <Figure value={count ? count.count.toLocaleString("en-GB") : "…"} unit="items" testId="item-count" />
            <Note lines={2}>
              {count ? `${count.triangles.toLocaleString("en-GB")} triangles` : ""}
              {report.data?.meta.area ? ` · mask on ${coverage(report.data)}` : ""}
            </Note>
            <MaskPicture picture={report.data?.whole ?? null} label="Final mask" height={56} />
            <BudgetBar layer={layer.id} />
            <Note lines={2} warns={layer.density > (count?.densest ?? Infinity)}>
              {count?.densest && `Spacing and rooms allow at most ${shown(count.densest, 0.1)} /m².`}
            </Note>
          </Box>
          <Box sx={{ width: 184 }}>
            <DeclaredForm
              subject={layer.name}
              path={path}
              declared={declared}
              value={layer as unknown as Record<string, unknown>}
              without={["surfaces", "sides", ...ELSEWHERE]}
            />
            <DeclaredForm
              subject={layer.name}
              path={path}
              declared={SURFACES}
              value={layer as unknown as Record<string, unknown>}
            />
          </Box>
        </Box>
      </Section>
      <Box
        sx={{ display: "flex", flexDirection: "column", overflowY: "auto", "& > :last-child": { flex: "1 0 auto" } }}
      >
        <HandSection layer={layer} path={path} named={named} />
        <ClearSection layer={layer} path={path} />
      </Box>
    </>
  );
}

/** What it lies on, which is seldom changed. */
const SURFACES = Object.fromEntries(
  Object.entries(declaredGroup("Scatter")).filter(([name]) => name === "surfaces" || name === "sides"),
);
/** What has a section of its own. */
const ELSEWHERE = ["shown", "name", "id", "mix", "keep_clear", "strokes", "rows", "planted", "removed"];

/** Names of kit items for people, shipped ones and the site's own. */
function useNamed(vocabulary: Vocabulary) {
  const own = useDocument().kit;
  return useCallback(
    (kind: string) =>
      own.find((item) => item.id === kind)?.name ?? vocabulary.kit.find((item) => item.kind === kind)?.title ?? kind,
    [own, vocabulary],
  );
}

interface MixProps {
  layer: Scatter;
  path: string;
  named: (kind: string) => string;
}

/** The things of a mix, each with its share and how its copies vary. */
function Mix({ layer, path, named }: MixProps) {
  const change = useChange();
  const [open, setOpen] = useState<{ anchor: HTMLElement; index: number } | null>(null);
  const [adding, setAdding] = useState(false);
  const total = layer.mix.reduce((sum, entry) => sum + entry.share, 0) || 1;
  const shownEntry = open && layer.mix[open.index];
  return (
    <Box sx={{ width: 172 }}>
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
      <Button startIcon={<AddIcon />} onClick={() => setAdding(true)} disabled={layer.mix.length >= 12}>
        Add a kind
      </Button>
      {adding && (
        <KitBrowser
          onClose={() => setAdding(false)}
          onChoose={(item) => {
            change.now(`${layer.name}: add ${item.title}`, [
              { op: "add", path: `${path}/mix/-`, value: { ...mixDefaults(), item: item.kind } },
            ]);
            setAdding(false);
          }}
        />
      )}
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
            <MatchForm layer={layer} path={path} row={open.index} />
            <Button
              color="secondary"
              disabled={layer.mix.length < 2}
              onClick={() => {
                change.now(`${layer.name}: delete ${named(shownEntry.item)}`, [
                  { op: "remove", path: `${path}/mix/${open.index}` },
                ]);
                setOpen(null);
              }}
            >
              Delete from the mix
            </Button>
          </Box>
        )}
      </Popover>
    </Box>
  );
}
