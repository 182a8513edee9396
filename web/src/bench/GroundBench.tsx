import AddIcon from "@mui/icons-material/Add";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import type { SiteDocument } from "../api/client";
import { uploadHeightMap, useVocabulary } from "../api/queries";
import { freshId, freshName } from "../site/layers";
import { declaredGroup, defaultsOfGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange, useSiteContext } from "../site/context";
import { type Brush, brushIn } from "../site/inHand";
import { useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { BrushForm } from "./BrushForm";
import { NameField } from "../forms/NameField";
import { BroughtFile } from "./BroughtFile";
import { ScatterOver, Section } from "./parts";

type Ground = SiteDocument["ground"];

/** The ground: what it is – how it is shaped – what is painted on it – hollows and levelled places. */
export function GroundBench({ ground }: { ground: Ground }) {
  // Whoever picks something else puts the brush down.
  useEffect(() => () => void (brushIn(useView.getState()) && useView.getState().take(null)), []);
  const values = ground as unknown as Record<string, unknown>;
  return (
    <>
      <Section title="Ground" tone={partColours.ground}>
        <Box sx={{ width: 250 }}>
          <DeclaredForm subject="Ground" path="/ground" declared={declaredGroup("Ground")} value={values} />
          <HeightMapPart ground={ground} />
          <ScatterOver surface="ground" />
        </Box>
      </Section>
      <Section title="shaped by hand" tone={colours.water}>
        <Shaping strokes={ground.strokes.length} />
      </Section>
      <Section title="painted with" tone={partColours.ground}>
        <Painting ground={ground} />
      </Section>
      <Section title="hollows and levelled places" tone={partColours.ground}>
        <Places ground={ground} />
      </Section>
    </>
  );
}

const TOOLS: { tool: Brush["tool"]; label: string; help: string }[] = [
  { tool: "raise", label: "Raise", help: "Lifts the ground." },
  { tool: "lower", label: "Lower", help: "Sinks the ground." },
  { tool: "smooth", label: "Smooth", help: "Evens out humps; strength is how far." },
  { tool: "flatten", label: "Flatten", help: "Leads to the level where the stroke begins." },
  { tool: "roughen", label: "Roughen", help: "Adds small humps and hollows." },
];
const FIRST_BRUSH = { radius: 1.5, strength: 0.25, soft: 0.7 };

function take(tool: Brush["tool"], paints?: string) {
  const brush = brushIn(useView.getState());
  const same = brush?.tool === tool && brush.paints === paints;
  useView.getState().take(same ? null : { ...FIRST_BRUSH, ...brush, what: "brush", tool, paints });
}

function Shaping({ strokes }: { strokes: number }) {
  const brush = useView(brushIn);
  const shaping = brush && !brush.paints ? brush : null;
  return (
    <Box sx={{ width: 230 }}>
      <Box role="group" aria-label="Brushes" sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mb: 0.5 }}>
        {TOOLS.map((one) => (
          <Chip
            key={one.tool}
            size="small"
            label={one.label}
            title={one.help}
            aria-pressed={brush?.tool === one.tool}
            color={brush?.tool === one.tool ? "primary" : "default"}
            variant={brush?.tool === one.tool ? "filled" : "outlined"}
            onClick={() => take(one.tool)}
          />
        ))}
      </Box>
      {shaping ? (
        <BrushForm brush={shaping} unit="m" />
      ) : (
        <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
          Take a brush, then draw on the ground in the view.{" "}
          {strokes ? `${strokes} strokes so far; each is a step to undo.` : ""}
        </Typography>
      )}
    </Box>
  );
}

function Painting({ ground }: { ground: Ground }) {
  const change = useChange();
  const brush = useView(brushIn);
  const vocabulary = useVocabulary().data;
  const add = () => {
    const id = freshId("paint");
    const names = ground.paints.map((one) => one.name);
    const { paint } = vocabulary!.starters;
    const value = { ...structuredClone(paint), id, name: freshName(paint.name!, names) };
    change.now("Paint a material", [{ op: "add", path: "/ground/paints/-", value }]);
    useView.getState().take({ ...FIRST_BRUSH, what: "brush", radius: 0.8, strength: 1, tool: "paint", paints: id });
  };
  return (
    <Box sx={{ width: 250 }}>
      {ground.paints.map((paint, row) => {
        const path = `/ground/paints/${row}`;
        const inHand = brush?.paints === paint.id ? brush : null;
        return (
          <Box key={paint.id} sx={{ borderBottom: `1px solid ${colours.rule}`, pb: 0.5, mb: 0.5 }}>
            <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
              <Box sx={{ flex: 1 }}>
                <NameField name={paint.name} path={path} />
              </Box>
              {(["paint", "unpaint"] as const).map((tool) => (
                <Chip
                  key={tool}
                  size="small"
                  label={tool === "paint" ? "Paint" : "Wipe out"}
                  aria-pressed={inHand?.tool === tool}
                  color={inHand?.tool === tool ? "primary" : "default"}
                  variant={inHand?.tool === tool ? "filled" : "outlined"}
                  onClick={() => take(tool, paint.id)}
                />
              ))}
            </Box>
            {inHand && <BrushForm brush={inHand} unit="" />}
            <DeclaredForm
              subject={paint.name}
              path={path}
              declared={declaredGroup("PaintedMaterial")}
              value={paint as unknown as Record<string, unknown>}
            />
            <Button
              color="secondary"
              onClick={() => change.now(`Delete ${paint.name}`, [{ op: "remove", path }])}
              aria-label={`Delete ${paint.name}`}
            >
              Delete
            </Button>
          </Box>
        );
      })}
      <Button startIcon={<AddIcon />} disabled={ground.paints.length >= 12} onClick={add}>
        Paint a material
      </Button>
    </Box>
  );
}

function Places({ ground }: { ground: Ground }) {
  const { stage } = useSiteContext();
  const change = useChange();
  const add = (list: "hollows" | "levelled") => {
    const usual = defaultsOfGroup(list === "hollows" ? "Hollow" : "Levelled");
    const [x, y, z] = stage.spot();
    const value = { ...usual, centre: [x, z], ...(list === "levelled" ? { level: y } : {}) };
    change.now(list === "hollows" ? "Dig a hollow" : "Level a place", [
      { op: "add", path: `/ground/${list}/-`, value },
    ]);
  };
  return (
    <Box sx={{ width: 250 }}>
      {(["hollows", "levelled"] as const).map((list) =>
        ground[list].map((place, row) => {
          const name = `${list === "hollows" ? "Hollow" : "Levelled place"} ${row + 1}`;
          return (
            <Box key={`${list}-${row}`} component="details" sx={{ borderBottom: `1px solid ${colours.rule}` }}>
              <Box component="summary" sx={{ fontSize: 13, cursor: "pointer", py: 0.5 }}>
                {name}
              </Box>
              <DeclaredForm
                subject={name}
                path={`/ground/${list}/${row}`}
                declared={declaredGroup(list === "hollows" ? "Hollow" : "Levelled")}
                value={place as unknown as Record<string, unknown>}
              />
              <Button
                color="secondary"
                onClick={() =>
                  change.now(`Delete ${name.toLowerCase()}`, [{ op: "remove", path: `/ground/${list}/${row}` }])
                }
              >
                Delete
              </Button>
            </Box>
          );
        }),
      )}
      <Button startIcon={<AddIcon />} onClick={() => add("hollows")}>
        Dig a hollow in view
      </Button>
      <Button startIcon={<AddIcon />} onClick={() => add("levelled")}>
        Level a place in view
      </Button>
    </Box>
  );
}

function HeightMapPart({ ground }: { ground: Ground }) {
  const { siteId } = useSiteContext();
  const change = useChange();
  return (
    <Box sx={{ borderTop: `1px solid ${colours.rule}`, mt: 0.75, pt: 0.25 }}>
      <BroughtFile
        called="Height map"
        accept=".png,.tif,.tiff,.exr"
        upload={(file) => uploadHeightMap(siteId, file)}
        onRead={(found) => {
          const value = { map: found.map, file_name: found.file_name, range: [0, 4], smoothing: 0.5 };
          change.now(`Height map ${found.file_name}`, [{ op: "replace", path: "/ground/height_map", value }]);
          return [`${found.columns} × ${found.rows} points.`, ...found.remarks];
        }}
        inUse={ground.height_map?.file_name ?? null}
        onDelete={() =>
          change.now("Delete the height map", [{ op: "replace", path: "/ground/height_map", value: null }])
        }
        beside={
          <>
            <Button href={`/api/sites/${siteId}/ground/map?format=png`}>As 16-bit PNG</Button>
            <Button href={`/api/sites/${siteId}/ground/map?format=exr`}>As EXR</Button>
          </>
        }
      >
        <DeclaredForm
          subject="Height map"
          path="/ground/height_map"
          declared={declaredGroup("HeightMap")}
          value={ground.height_map as unknown as Record<string, unknown>}
        />
      </BroughtFile>
    </Box>
  );
}
