import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Structure } from "../api/client";
import { useJobs } from "../api/jobs";
import { isGoing } from "../jobs/JobProgress";
import { letFall } from "../drop/dropping";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { freedPieces } from "../place/actions";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";

/** A heap: what fell and how; dropping it again, and making single objects of its pieces. */
export function HeapForm({ structure, path }: { structure: Structure; path: string }) {
  const { siteId, editor } = useSiteContext();
  const document = useDocument();
  const jobs = useJobs(siteId);
  const { pick } = useView.getState();
  if (structure.source.kind !== "heap") return null;
  const { drop, pieces } = structure.source;
  const falls = Object.values(jobs).some((job) => job.kind === "drop" && isGoing(job));
  const total = drop.mix.reduce((sum, share) => sum + share.number, 0);
  const again = (seed: number) =>
    void letFall(siteId, editor, document, { heap: structure, drop: { ...drop, seed }, position: [0, 0, 0] });
  const free = () => {
    editor.commit(`Make single objects of ${structure.name}`, freedPieces(document, structure));
    pick(null);
  };
  return (
    <>
      <DeclaredForm
        subject={structure.name}
        path={`${path}/source/drop`}
        declared={declaredGroup("Drop")}
        value={drop as unknown as Record<string, unknown>}
        columns={3}
      />
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1, flexWrap: "wrap" }}>
        <Button variant="contained" disabled={falls} onClick={() => again(drop.seed)}>
          Drop again: {total} things
        </Button>
        <Button disabled={falls} onClick={() => again((drop.seed + 1) % 10_000)}>
          Drop them another way
        </Button>
        <Button onClick={free}>Make single objects of its pieces</Button>
        <Typography variant="caption">
          {falls
            ? "Falling: the view shows how far it is. The site stays usable."
            : `${pieces.length} pieces lie here. Numbers and area take effect when they are dropped again.`}
        </Typography>
      </Box>
    </>
  );
}
