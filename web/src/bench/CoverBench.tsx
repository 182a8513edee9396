import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { CoverLayer } from "../api/client";
import { declaredGroup, declaredKind, shown } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { KeepButton } from "../library/KeepButton";
import { useChange, useDocument } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { swapped } from "./covers";
import { MaskPicture } from "./MaskPicture";
import { NameField } from "../forms/NameField";
import { Figure, Heading, type LayerProps, Section } from "./parts";
import { SurfaceShares } from "./SurfaceShares";
import { coverage, useReport } from "./where";
import { WhereSection } from "./WhereSection";

const ON_ITEMS = { on_items: declaredGroup("CoverLayer").on_items };

/** A cover: its look and who shares it – where – how much of it. */
export function CoverBench({ layer, path, vocabulary }: LayerProps<CoverLayer>) {
  const report = useReport(layer.id);
  const document = useDocument();
  const change = useChange();
  const cover = vocabulary.covers.find((entry) => entry.kind === layer.cover.kind);
  const surfaces = [{ id: "ground", name: "Ground" }, ...document.structures.map(({ id, name }) => ({ id, name }))];
  return (
    <>
      <Section title={<NameField name={layer.name} path={path} />} tone={partColours.weather}>
        <Box sx={{ width: 190 }}>
          <Heading text={`is ${cover?.title.toLowerCase() ?? ""}, shared by ${layer.surfaces.length}`} />
          <Select
            multiple
            fullWidth
            value={layer.surfaces as string[]}
            onChange={(event) =>
              change.now(`${layer.name}: surfaces`, [
                { op: "replace", path: `${path}/surfaces`, value: event.target.value },
              ])
            }
            inputProps={{ "aria-label": "Surfaces that share this cover" }}
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
          <SurfaceShares layer={layer} path={path} surfaces={surfaces} />
          {cover?.coats && (
            <DeclaredForm
              subject={layer.name}
              path={path}
              declared={ON_ITEMS}
              value={layer as unknown as Record<string, unknown>}
            />
          )}
          <DeclaredForm
            subject={layer.name}
            path={`${path}/cover`}
            declared={declaredKind(layer.cover.kind)}
            value={layer.cover as unknown as Record<string, unknown>}
          />
        </Box>
      </Section>
      <WhereSection
        where={layer.where}
        path={`${path}/where`}
        subject={layer.name}
        report={report.data}
        vocabulary={vocabulary}
      />
      <Section title="How much" tone={partColours.weather}>
        <Box sx={{ width: 230 }}>
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
          <Box sx={{ display: "flex", gap: 1, mt: 1, alignItems: "center" }}>
            <TextField
              select
              label="Swap for"
              value=""
              onChange={(event) =>
                change.now(
                  `${layer.name}: swap for another`,
                  swapped(document, vocabulary, document.weather.indexOf(layer), event.target.value),
                )
              }
              slotProps={{ htmlInput: { "aria-label": "Swap for" } }}
              size="small"
              sx={{ minWidth: 112 }}
            >
              {vocabulary.covers
                .filter((entry) => entry.kind !== layer.cover.kind)
                .map((entry) => (
                  <MenuItem key={entry.kind} value={entry.kind} dense>
                    {entry.title}
                  </MenuItem>
                ))}
            </TextField>
            <KeepButton layer={layer} />
          </Box>
        </Box>
      </Section>
    </>
  );
}
