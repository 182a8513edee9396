import Box from "@mui/material/Box";
import Chip from "@mui/material/Chip";
import Typography from "@mui/material/Typography";
import type { Structure } from "../api/client";
import { useScene, useSite } from "../api/queries";
import { declaredGroup, declaredKind, shown } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange, useDocument, useSiteContext } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { HeapForm } from "./HeapForm";
import { ObjectActions } from "./ObjectActions";
import { PartsOf } from "./PartsOf";
import { NameField } from "../forms/NameField";
import { Figure, Heading, ScatterOver, Section } from "./parts";

/** A structure: how it is made – where it stands – what it comes to and which recipes it shares. */
export function StructureBench({ structure, path }: { structure: Structure; path: string }) {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const surface = useScene(siteId, revision, true).data?.surfaces.find((one) => one.id === structure.id);
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
            frame={structure.placement}
          />
        ) : structure.source.kind === "kit_piece" ? (
          <Box sx={{ width: 300 }}>
            <DeclaredForm
              subject={structure.name}
              path={`${path}/source`}
              declared={declaredGroup("KitPiece")}
              value={structure.source as unknown as Record<string, unknown>}
            />
          </Box>
        ) : structure.source.kind === "heap" ? (
          <HeapForm structure={structure} path={path} />
        ) : (
          <Typography color="text.secondary">From the file {structure.source.file_name}.</Typography>
        )}
        {surface && <PartsOf structure={structure} path={path} surface={surface} />}
      </Section>
      <Section title="stands at" tone={colours.water}>
        <Box sx={{ width: 260 }}>
          <DeclaredForm
            subject={structure.name}
            path={`${path}/placement`}
            declared={declaredGroup("Placement")}
            value={structure.placement as unknown as Record<string, unknown>}
          />
          <Box component="details" sx={{ borderTop: `1px solid ${colours.rule}`, mt: 0.5 }}>
            <Box component="summary" sx={{ fontSize: 13, cursor: "pointer", py: 0.5 }}>
              Repeat and mirror{structure.repeat.number > 1 ? ` (${structure.repeat.number} copies)` : ""}
            </Box>
            <DeclaredForm
              subject={structure.name}
              path={`${path}/repeat`}
              declared={declaredGroup("Repeat")}
              value={structure.repeat as unknown as Record<string, unknown>}
              frame={structure.placement}
            />
          </Box>
        </Box>
      </Section>
      <Section title="How much" tone={partColours.structures}>
        <Box sx={{ width: 200 }}>
          {surface && (
            <>
              <Figure value={shown(surface.area, 0.1)} unit="m² of surface" testId="surface-area" />
              <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
                {surface.triangles.toLocaleString("en-GB")} triangles · {(surface.texels / 1e6).toFixed(2)} million
                texture pixels of {shown(surface.texel * 100, 0.1)} cm
              </Typography>
            </>
          )}
          <ObjectActions ids={[structure.id]} surface={surface} />
          <SharedRecipes structure={structure} />
          <ScatterOver surface={structure.id} />
        </Box>
      </Section>
    </>
  );
}

/** The weathering recipes of the site; a press lets this structure share one, or leaves it. */
function SharedRecipes({ structure }: { structure: Structure }) {
  const document = useDocument();
  const change = useChange();
  if (!document.weather.length)
    return <Typography variant="caption">No covers on this site yet: add one in the column, under Weather.</Typography>;
  const toggle = (row: number) => {
    const layer = document.weather[row];
    const shares = layer.surfaces.includes(structure.id);
    const value = shares ? layer.surfaces.filter((id) => id !== structure.id) : [...layer.surfaces, structure.id];
    change.now(`${layer.name}: ${shares ? "not on" : "on"} ${structure.name}`, [
      { op: "replace", path: `/weather/${row}/surfaces`, value },
    ]);
  };
  return (
    <Box role="group" aria-label="Weathered by" sx={{ mt: 1 }}>
      <Heading text="weathered by" />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
        {document.weather.map((layer, row) => {
          const shares = layer.surfaces.includes(structure.id);
          return (
            <Chip
              key={layer.id}
              label={layer.name}
              size="small"
              variant={shares ? "filled" : "outlined"}
              color={shares ? "primary" : "default"}
              aria-pressed={shares}
              onClick={() => toggle(row)}
            />
          );
        })}
      </Box>
    </Box>
  );
}
