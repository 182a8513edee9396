import Box from "@mui/material/Box";
import Tooltip from "@mui/material/Tooltip";
import { useShotPictures } from "../api/queries";
import { useSiteContext } from "../site/context";
import { colours } from "../theme/theme";

/** What a shot shows, as small as a word; larger for who points at it. A new one has a blank for some seconds. */
export function ShotPicture({ id }: { id: string }) {
  const { siteId } = useSiteContext();
  const address = useShotPictures(siteId).data?.[id];
  if (!address) return <Box component="span" sx={frame} />;
  return (
    <Tooltip
      describeChild
      placement="right"
      title={<Box component="img" src={address} alt="" sx={{ display: "block", maxWidth: 192, maxHeight: 128 }} />}
      slotProps={{ tooltip: { sx: { p: 0.5 } } }}
    >
      <Box component="img" src={address} alt="" sx={{ ...frame, objectFit: "cover" }} />
    </Tooltip>
  );
}

const frame = {
  display: "inline-block",
  verticalAlign: "middle",
  width: 33,
  height: 22,
  mr: 0.75,
  background: colours.rule,
} as const;
