import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { stepsOf, useFinished } from "./finishes";
import { pictureOf, useStills } from "./stills";

/** In place of the view: the newest still of the shot that is looked through, as its finish has it now. */
export function StillShown() {
  const { siteId } = useSiteContext();
  const document = useDocument();
  const shotId = useView((state) => state.shotId) ?? document.shots[0]?.id ?? "";
  const { stills } = useStills(siteId);
  const still = stills.find((one) => one.shot === shotId && !one.region && one.picture);
  const { address, error } = useFinished(still?.bytes ? still : undefined, stepsOf(document, shotId));
  // Per cent of the width, from the left, that shows what the still is without its finish.
  const [wipe, setWipe] = useState(0);
  return (
    <Box sx={{ position: "absolute", inset: 0, background: colours.ink, display: "grid", placeItems: "center" }}>
      {still ? (
        <img src={pictureOf(still)} alt={`Still of ${still.name}, as it was taken`} style={FILLS} />
      ) : (
        <Typography sx={{ color: colours.pale, maxWidth: 420, textAlign: "center" }}>
          There is no still of this shot yet. Take one under Stills, at the top of the page.
        </Typography>
      )}
      {still && address && (
        <>
          <img
            src={address}
            alt={`Still of ${still.name}, finished`}
            style={{
              ...FILLS,
              clipPath: wipe > 0 ? `inset(0 0 0 ${placeOf(wipe)})` : undefined,
              background: colours.ink,
            }}
          />
          {wipe > 0 && (
            <Box
              sx={{ position: "absolute", inset: `0 auto 0 ${placeOf(wipe)}`, width: "1px", background: colours.pale }}
            />
          )}
          <Slider
            size="small"
            aria-label="How much is shown as it was taken"
            value={wipe}
            valueLabelDisplay="off"
            onChange={(_, value) => setWipe(value)}
            sx={{
              position: "absolute",
              bottom: 4,
              left: ASIDE,
              width: `calc(100% - ${2 * ASIDE}px)`,
              color: colours.pale,
            }}
          />
        </>
      )}
      {error && (
        <Typography role="alert" variant="caption" sx={{ position: "absolute", bottom: 40, color: colours.pale }}>
          {error.message}
        </Typography>
      )}
    </Box>
  );
}

/** Pixels that the slider ends before the sides. */
const ASIDE = 14;
/** Where the wipe is, from the left, under the slider's handle. */
const placeOf = (wipe: number) => `calc(${ASIDE}px + (100% - ${2 * ASIDE}px) * ${wipe / 100})`;
const FILLS = { position: "absolute", inset: 0, width: "100%", height: "100%", objectFit: "contain" } as const;
