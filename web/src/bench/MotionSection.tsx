import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { inWords } from "../api/client";
import { declaredGroup } from "../api/declared";
import { useVocabulary } from "../api/queries";
import { Section } from "./parts";
import { DeclaredForm } from "../forms/DeclaredForm";
import { isGoing, JobProgress } from "../jobs/JobProgress";
import { useDocument } from "../site/context";
import { partColours } from "../theme/theme";
import { type Format, FORMATS, picturesOf, SAMPLES, useTaking, WIDTHS } from "../stills/motions";
import { heightOf } from "../stills/stills";
import { StepList } from "../forms/StepList";

/** What all moves have. */
const WHEN = ["begins", "ends", "gently"];

/** How a shot moves, and taking it as a moving picture. */
export function MotionSection({ index }: { index: number }) {
  const shot = useDocument().shots[index];
  const kinds = useVocabulary().data?.moves ?? [];
  const { wanted, set, start, job } = useTaking(shot);
  const path = `/shots/${index}/motion`;
  const { motion } = shot;
  return (
    <Section title="As a moving picture" tone={partColours.shots}>
      <DeclaredForm
        subject={`${shot.name}: motion`}
        path={path}
        declared={declaredGroup("Motion")}
        value={motion as unknown as Record<string, unknown>}
        without={["moves"]}
        columns={2}
      />
      <StepList of="Motion" path={`${path}/moves`} steps={motion.moves} kinds={kinds} common={WHEN} add="Add a move" />
      {motion.moves.length > 0 && (
        <Box sx={{ display: "grid", gap: 1, pt: 1 }}>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Choice
              label="Size"
              value={wanted.width}
              onPick={(width) => set({ width: Number(width) })}
              choices={WIDTHS.map((one) => [one, `${one} × ${heightOf(shot, one)}`])}
            />
            <Choice
              label="Samples"
              value={wanted.samples}
              onPick={(samples) => set({ samples: Number(samples) })}
              choices={SAMPLES.map((one) => [one, String(one)])}
            />
            <Choice
              label="File"
              value={wanted.format}
              onPick={(format) => set({ format: format as Format })}
              choices={FORMATS.map(({ format, label }) => [format, label])}
            />
          </Box>
          <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <Button variant="contained" disabled={isGoing(job) || start.isPending} onClick={() => start.mutate()}>
              Take it
            </Button>
            <Typography variant="caption">
              {picturesOf(motion)} pictures, traced one after another. It goes on though the page is closed; the file is
              listed under Files.
            </Typography>
          </Box>
          {start.isError && <Alert severity="error">{inWords(start.error)}</Alert>}
          {job && <JobProgress job={job} />}
        </Box>
      )}
    </Section>
  );
}

interface ChoiceProps {
  label: string;
  value: string | number;
  choices: [string | number, string][];
  onPick: (value: string) => void;
}

function Choice({ label, value, choices, onPick }: ChoiceProps) {
  return (
    <TextField select label={label} value={value} onChange={(event) => onPick(event.target.value)} sx={{ width: 132 }}>
      {choices.map(([one, title]) => (
        <MenuItem key={one} value={one}>
          {title}
        </MenuItem>
      ))}
    </TextField>
  );
}
