import AddIcon from "@mui/icons-material/Add";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Scatter, SignalCard } from "../api/client";
import { mixDefaults } from "../column/layers";
import { declaredGroup, shown } from "../forms/declared";
import { DeclaredForm, PickField } from "../forms/DeclaredForm";
import { KitBrowser } from "../kit/KitBrowser";
import { useChange, useDocument } from "../site/context";
import { colours, partColours } from "../theme";
import { useLayerCount } from "./counts";
import { Figure, Heading, type LayerProps, NameField, Section } from "./parts";
import { coverage, useReport } from "./where";
import { WhereSection } from "./WhereSection";

/** A scatter: the mix – where – how many. */
export function ScatterBench({ layer, path, vocabulary }: LayerProps<Scatter>) {
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
  const [adding, setAdding] = useState(false);
  const total = layer.mix.reduce((sum, entry) => sum + entry.share, 0) || 1;
  const own = useDocument().kit;
  const named = (kind: string) =>
    own.find((item) => item.id === kind)?.name ?? vocabulary.kit.find((item) => item.kind === kind)?.name ?? kind;
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
      <Button startIcon={<AddIcon />} onClick={() => setAdding(true)} disabled={layer.mix.length >= 12}>
        Add a kind
      </Button>
      {adding && (
        <KitBrowser
          onClose={() => setAdding(false)}
          onChoose={(item) => {
            change.now(`${layer.name}: add ${item.name}`, [
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
