import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { declaredGroup } from "../api/declared";
import type { SiteDocument } from "../api/client";
import { uploadPanorama } from "../api/queries";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange, useSiteContext } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { BroughtFile } from "./BroughtFile";
import { MoodSection } from "./MoodSection";
import { Section } from "./parts";

type Light = SiteDocument["light"];

/** Which sky, how strong; moods; a panorama of one's own. */
export function LightBench({ light }: { light: Light }) {
  const { siteId } = useSiteContext();
  const change = useChange();
  return (
    <>
      <Section title="Light" tone={partColours.light} wide>
        <DeclaredForm
          subject="Light"
          path="/light"
          declared={declaredGroup("Light")}
          value={light as unknown as Record<string, unknown>}
          columns={3}
        />
      </Section>
      <MoodSection />
      <Section title="a sky of your own" tone={colours.water}>
        <Box sx={{ width: 230 }}>
          <BroughtFile
            called="Panorama"
            accept=".hdr,.exr"
            upload={(file) => uploadPanorama(siteId, file)}
            onRead={(found) => {
              const value = { source: found.source, file_name: found.file_name, turn: light.panorama?.turn ?? 0 };
              change.now(`Panorama ${found.file_name}`, [
                { op: "replace", path: "/light/panorama", value },
                { op: "replace", path: "/light/by", value: "panorama" },
              ]);
              return [`${found.columns} × ${found.rows} points.`, ...found.remarks];
            }}
            inUse={light.panorama?.file_name ?? null}
            onDelete={() =>
              change.now("Delete the panorama", [
                { op: "replace", path: "/light/panorama", value: null },
                { op: "replace", path: "/light/by", value: light.by === "panorama" ? "hand" : light.by },
              ])
            }
          >
            <DeclaredForm
              subject="Panorama"
              path="/light/panorama"
              declared={declaredGroup("Panorama")}
              value={light.panorama as unknown as Record<string, unknown>}
            />
          </BroughtFile>
          {!light.panorama && (
            <Typography variant="caption" component="p" sx={{ color: colours.faint, m: 0 }}>
              A photograph of all the light around, twice as wide as high, as .hdr or .exr. Its sun is found and casts
              shadows.
            </Typography>
          )}
        </Box>
      </Section>
    </>
  );
}
