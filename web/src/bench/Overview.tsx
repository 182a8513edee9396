import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Scatter } from "../api/client";
import { useCoverage, useScene, useSite } from "../api/queries";
import { shown } from "../api/declared";
import { useDocument, useSiteContext } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { blades } from "./blades";
import { BudgetBar } from "./BudgetBar";
import { useLayerCount } from "./counts";
import { Figure, Section } from "./parts";

const KEYS: [string, string][] = [
  ["1 – 9, 0", "a part of the column"],
  ["F6", "next region; Shift: back"],
  ["+", "add to a part"],
  ["Arrows", "through column or value"],
  ["Escape", "from the bench to its row"],
  ["Space, held", "the picked layer’s mask"],
  ["X", "before and after weather"],
  ["?, held", "why it is there"],
  ["Ctrl or ⌘ + Z", "undo; Shift: redo"],
  ["Shift + arrow", "ten steps at once"],
  ["Double-click", "usual value; centre the view"],
  ["Press again", "the decal on what is picked"],
  ["Shift + click", "pick several objects"],
  ["Arrows, Page up", "move what is picked, or the camera"],
  [", and .", "turn what is picked"],
  ["[ and ]", "radius of the brush"],
];

/** What the bench shows while nothing is picked: what the site comes to, and the keys. */
export function Overview() {
  const { siteId } = useSiteContext();
  const document = useDocument();
  const revision = useSite(siteId).data!.revision;
  const scene = useScene(siteId, revision, true).data;
  const sum = (of: (surface: NonNullable<typeof scene>["surfaces"][number]) => number) =>
    scene?.surfaces.reduce((total, surface) => total + of(surface), 0) ?? 0;
  const coverage = new Map(useCoverage(siteId, revision).data?.covers.map((entry) => [entry.layer, entry]));
  return (
    <>
      <Section title="This site" tone={partColours.structures}>
        <Box sx={{ width: 250 }}>
          <Figure
            value={shown(
              sum((one) => one.area),
              1,
            )}
            unit="m² of surface"
            testId="site-area"
          />
          <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
            {document.structures.length === 1 ? "1 structure" : `${document.structures.length} structures`} on the
            ground · {sum((one) => one.triangles).toLocaleString("en-GB")} triangles ·{" "}
            {(sum((one) => one.texels) / 1e6).toFixed(1)} million texture pixels
          </Typography>
          <Typography variant="body2" sx={{ mt: 1.5 }}>
            Pick something in the column or in the view, and it is laid out here: what it is, where it goes, how much of
            it there is.
          </Typography>
        </Box>
      </Section>
      <Section title="grows" tone={partColours.planting}>
        <Box component="ul" sx={{ width: 266, listStyle: "none", m: 0, p: 0 }}>
          {document.grass.map(({ id, name, shown: seen }) => {
            const there = scene?.grass.filter(({ layer }) => layer === id) ?? [];
            const sum = there.reduce((all, one) => all + one.expected, 0);
            return <Row key={id} name={name} value={!seen ? "hidden" : sum ? `about ${blades(sum)} blades` : "…"} />;
          })}
          {document.planting.map((layer) => (
            <LayerRow key={layer.id} layer={layer} />
          ))}
          {!document.planting.length && !document.grass.length && (
            <Typography variant="caption">Nothing yet: add grass or a scatter in the column.</Typography>
          )}
        </Box>
        <Box sx={{ width: 266 }}>
          <BudgetBar editable />
        </Box>
      </Section>
      <Section title="wears" tone={partColours.weather}>
        <Box component="ul" sx={{ width: 230, listStyle: "none", m: 0, p: 0 }}>
          {document.weather.map((layer) => (
            <Row key={layer.id} name={layer.name} value={layer.shown ? coverageOf(coverage.get(layer.id)) : "hidden"} />
          ))}
          {!document.weather.length && (
            <Typography variant="caption">All clean and new: add a cover in the column.</Typography>
          )}
        </Box>
      </Section>
      <Section title="Keys; none is needed" tone={colours.water} wide reading>
        <Box
          component="dl"
          sx={{
            m: 0,
            // As many columns as there is room for, each filled before the next.
            columnWidth: 200,
            columnGap: "16px",
            fontSize: 12,
            lineHeight: "16.5px",
          }}
        >
          {KEYS.map(([key, help]) => (
            <Box key={key} sx={{ display: "flex", gap: 1, breakInside: "avoid" }}>
              <Box component="dt" sx={{ fontWeight: 600, whiteSpace: "nowrap" }}>
                {key}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {help}
              </Box>
            </Box>
          ))}
        </Box>
      </Section>
    </>
  );
}

/** What a cover takes as the dials stand, in m² and as a share of the surfaces that have it. */
function coverageOf(entry?: { covered: number; area: number }): string {
  if (!entry) return "…";
  if (!entry.area) return "on no surface";
  const share = (entry.covered / entry.area) * 100;
  return `${shown(entry.covered, entry.covered < 10 ? 0.1 : 1)} m² · ${share > 0 && share < 1 ? "< 1" : share.toFixed(0)} %`;
}

function LayerRow({ layer }: { layer: Scatter }) {
  const count = useLayerCount(layer.id);
  const value = count
    ? `${count.count.toLocaleString("en-GB")} items · ${count.triangles.toLocaleString("en-GB")} tri`
    : layer.shown
      ? "…"
      : "hidden";
  return <Row name={layer.name} value={value} />;
}

function Row({ name, value }: { name: string; value: string }) {
  return (
    <Box
      component="li"
      sx={{ display: "flex", gap: 1, fontSize: 12.5, py: 0.25, borderBottom: `1px solid ${colours.rule}` }}
    >
      <Box sx={{ flex: 1 }}>{name}</Box>
      <Box sx={{ color: colours.faint }}>{value}</Box>
    </Box>
  );
}
