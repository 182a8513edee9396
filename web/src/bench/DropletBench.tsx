import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { DropletLayer } from "../api/client";
import { declaredGroup, declaredKind, defaultsOf, shown } from "../api/declared";
import { useDropletCost } from "../api/queries";
import { DeclaredForm } from "../forms/DeclaredForm";
import { NameField } from "../forms/NameField";
import { useChange, useDocument, useSiteContext } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { type LayerProps, Section } from "./parts";
import { useReport } from "./where";
import { WhereSection } from "./WhereSection";

const ELSEWHERE = ["id", "name", "shown", "droplets", "where"];

/** A layer of drops: how they lie – on what, and what that costs – where. */
export function DropletBench({ layer, path, vocabulary }: LayerProps<DropletLayer>) {
  const change = useChange();
  const report = useReport(layer.id);
  const help = vocabulary.droplets.find(({ kind }) => kind === layer.droplets.kind)?.help;
  return (
    <>
      <Section title={<NameField name={layer.name} path={path} />} tone={partColours.droplets}>
        <Box sx={{ width: 330 }}>
          <TextField
            select
            label="They are"
            value={layer.droplets.kind}
            helperText={help}
            onChange={(event) =>
              change.now(`${layer.name}: what drops they are`, [
                { op: "replace", path: `${path}/droplets`, value: defaultsOf(event.target.value) },
              ])
            }
            sx={{ mt: 0.75, minWidth: 160 }}
          >
            {vocabulary.droplets.map(({ kind, title }) => (
              <MenuItem key={kind} value={kind} dense>
                {title}
              </MenuItem>
            ))}
          </TextField>
          <DeclaredForm
            subject={layer.name}
            path={`${path}/droplets`}
            declared={declaredKind(layer.droplets.kind)}
            value={layer.droplets as unknown as Record<string, unknown>}
            columns={2}
          />
        </Box>
      </Section>
      <Section title="on" tone={partColours.droplets}>
        <Box sx={{ width: 270 }}>
          <DeclaredForm
            subject={layer.name}
            path={path}
            declared={declaredGroup("DropletLayer")}
            value={layer as unknown as Record<string, unknown>}
            without={ELSEWHERE}
          />
          <Cost layer={layer} />
        </Box>
      </Section>
      <WhereSection
        where={layer.where}
        path={`${path}/where`}
        subject={layer.name}
        report={report.data}
        vocabulary={vocabulary}
      />
    </>
  );
}

/** What the drops come to, by surface. */
function Cost({ layer }: { layer: DropletLayer }) {
  const { structures } = useDocument();
  const { siteId } = useSiteContext();
  const { data } = useDropletCost(siteId, layer.id);
  const nameOf = (id: string) => structures.find((one) => one.id === id)?.name ?? "The ground";
  if (!layer.surfaces.length)
    return <Typography variant="caption">Choose what they lie on: until then there are none.</Typography>;
  if (!data) return <Typography variant="caption">Counted once its surfaces are measured.</Typography>;
  return (
    <Box component="ul" aria-label="What they come to" sx={{ m: 0, pl: 2, fontSize: 12, color: colours.faint }}>
      {data.map((one) => (
        <li key={one.surface}>
          {nameOf(one.surface)}: {one.drops.toLocaleString("en-GB")} drops, {shown(one.volume, 0.1)} ml, up to{" "}
          {shown(one.largest, 0.1)} mm wide; {(one.triangles / 1000).toFixed(0)} thousand triangles here,{" "}
          {(one.still / 1000).toFixed(0)} thousand in stills and files
        </li>
      ))}
    </Box>
  );
}
