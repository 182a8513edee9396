import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import Box from "@mui/material/Box";
import { useStorage } from "../api/queries";

const gigabytes = (bytes: number) => (bytes / 1e9).toFixed(bytes < 1e9 ? 2 : 1);

/** What the user holds on the server: files brought in, files that were made, and the most that there may be. */
export function Storage() {
  const { data } = useStorage();
  if (!data) return null;
  return (
    <Box component="section" aria-label="Storage" sx={{ mt: 4, maxWidth: 420 }}>
      <LinearProgress
        variant="determinate"
        value={Math.min(100, (100 * data.used) / data.most)}
        color={data.used > 0.9 * data.most ? "error" : "primary"}
        aria-label="Share of your storage that is used"
      />
      <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, mt: 0.5 }}>
        You hold {gigabytes(data.used)} of {gigabytes(data.most)} GB: {gigabytes(data.brought)} brought in,{" "}
        {gigabytes(data.uploads)} as uploaded, {gigabytes(data.made)} in files that were made. The last two are deleted
        after {data.days} days.
      </Typography>
    </Box>
  );
}
