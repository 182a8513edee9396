import Box from "@mui/material/Box";
import { useState } from "react";
import type { Grass } from "../api/client";
import { declaredGroup, shown } from "../api/declared";
import { useScene, useSite } from "../api/queries";
import { DeclaredForm } from "../forms/DeclaredForm";
import { NameField } from "../forms/NameField";
import { useSiteContext } from "../site/context";
import { partColours } from "../theme/theme";
import { blades as about } from "./blades";
import { ClearSection } from "./ClearSection";
import { MaskPicture } from "./MaskPicture";
import { Figure, type LayerProps, Note, Section } from "./parts";
import { coverage, useReport } from "./where";
import { WhereSection } from "./WhereSection";

/** What says which blades there are, how each is shaped, and how it looks. */
const STANDS = ["height", "mown", "cut_at", "clumps", "clump_size", "uneven", "trodden_height", "flattened", "seed"];
const SHAPED = ["root_width", "tip_width", "bend", "curl", "kinked"];
const COLOURED = ["root_colour", "tip_colour", "dead", "dead_colour", "variety"];
const SOWN = ["density", "surfaces"];

const declaredOf = (names: string[]) =>
  Object.fromEntries(Object.entries(declaredGroup("Grass")).filter(([name]) => names.includes(name)));

/** A layer of grass: how it stands and what its blades are – where – how much. */
export function GrassBench({ layer, path, vocabulary }: LayerProps<Grass>) {
  const [of, setOf] = useState("where");
  const report = useReport(layer.id, of);
  const masks = [
    { value: "where", label: "where it grows", chain: layer.where },
    { value: "tall_where", label: "where it stands tall", chain: layer.tall_where },
  ];
  const mask = masks.find((one) => one.value === of) ?? masks[0];
  const form = (names: string[], columns = 1) => (
    <DeclaredForm
      subject={layer.name}
      path={path}
      declared={declaredOf(names)}
      value={layer as unknown as Record<string, unknown>}
      columns={columns}
    />
  );
  return (
    <>
      <Section title={<NameField name={layer.name} path={path} />} tone={partColours.grass}>
        <Box sx={{ width: 330 }}>{form(STANDS, 2)}</Box>
      </Section>
      <Section title="of blades" tone={partColours.grass}>
        <Box sx={{ display: "flex", gap: 2 }}>
          <Box sx={{ width: 184 }}>{form(SHAPED)}</Box>
          <Box sx={{ width: 184 }}>{form(COLOURED)}</Box>
        </Box>
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
      <Section title="How much" tone={partColours.grass}>
        <Box sx={{ width: 184 }}>
          <Amount layer={layer} />
          <Note lines={1}>{report.data?.meta.area ? `mask on ${coverage(report.data)}` : ""}</Note>
          <MaskPicture picture={report.data?.whole ?? null} label="Final mask" height={56} />
          {form(SOWN)}
        </Box>
      </Section>
      <ClearSection layer={layer} path={path} />
    </>
  );
}

/** How many blades there are, and whether they had to be fewer than asked for. */
function Amount({ layer }: { layer: Grass }) {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const scene = useScene(siteId, revision, true).data;
  const mine = scene?.grass.filter((one) => one.layer === layer.id && one.blades) ?? [];
  const blades = mine.reduce((sum, one) => sum + one.expected, 0);
  const thinned = mine.filter((one) => one.density < layer.density);
  return (
    <>
      <Figure value={mine.length ? about(blades) : "…"} unit="blades" testId="blade-count" />
      <Note lines={3} warns={thinned.length > 0}>
        {thinned.length > 0
          ? `So many would be too many: ${shown(thinned[0].density, 1)} /m² in their place, each ${shown(thinned[0].wide, 0.1)} times as wide.`
          : mine.length > 0
            ? `About ${shown((blades * MEMORY) / 1e6, 0.1)} MB on a graphics card. Far ones stand for their neighbours.`
            : ""}
      </Note>
    </>
  );
}

/** What a blade takes there, bytes. */
const MEMORY = 24;
