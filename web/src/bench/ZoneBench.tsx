import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useDocument } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { NameField } from "../forms/NameField";
import { Section } from "./parts";

/** A zone: its outline, and who refers to it. */
export function ZoneBench({ index }: { index: number }) {
  const document = useDocument();
  const zone = document.zones[index];
  const path = `/zones/${index}`;
  const layers = [
    ...document.grass,
    ...document.planting,
    ...document.weather,
    ...document.decals,
    ...document.droplets,
  ];
  const users = layers.filter((layer) => JSON.stringify(layer).includes(`"${zone.id}"`)).map((layer) => layer.name);
  return (
    <>
      <Section title={<NameField name={zone.name} path={path} />} tone={partColours.zones}>
        <Box sx={{ width: 260 }}>
          <DeclaredForm
            subject={zone.name}
            path={path}
            declared={declaredGroup("Zone")}
            value={zone as unknown as Record<string, unknown>}
            without={["id", "name", ...(zone.shape === "circle" ? [] : ["centre", "radius"])]}
          />
        </Box>
      </Section>
      <Section title="is used by" tone={partColours.zones} wide>
        <Typography variant="caption" sx={{ color: colours.faint }}>
          {users.length
            ? users.join(", ")
            : "Nothing yet. Add “Within zone” to a layer's where, or keep a layer clear of zones."}
        </Typography>
      </Section>
    </>
  );
}
