import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useVocabulary } from "../api/queries";
import { Section } from "./parts";
import { NameField } from "../forms/NameField";
import { useChange, useDocument } from "../site/context";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";
import { newFinish, useTones, type FinishStep } from "../stills/finishes";
import { StepList } from "../forms/StepList";

const NONE = "none";
const NEW = "new";
/** What all steps have. */
const HOW_MUCH = ["amount", "within", "distance", "soft"];

/** The finish of a shot: which one, and its steps. */
export function FinishSection({ index }: { index: number }) {
  const document = useDocument();
  const change = useChange();
  const kinds = useVocabulary().data?.steps ?? [];
  const shot = document.shots[index];
  const row = document.finishes.findIndex(({ id }) => id === shot.finish);
  const given = (id: string) => ({ op: "replace" as const, path: `/shots/${index}/finish`, value: id });
  const choose = (id: string) => {
    useView.getState().set({ showing: "still" });
    if (id !== NEW) return change.now(`${shot.name}: finish`, [given(id === NONE ? "" : id)]);
    const made = newFinish(document);
    change.now(`${shot.name}: new finish`, [{ op: "add", path: "/finishes/-", value: made }, given(made.id)]);
  };
  const copy = () => {
    const made = { ...newFinish(document, document.finishes[row].name), steps: document.finishes[row].steps };
    change.now(`${shot.name}: finish of its own`, [{ op: "add", path: "/finishes/-", value: made }, given(made.id)]);
  };
  const remove = () =>
    change.now(`Delete finish ${document.finishes[row].name}`, [
      ...document.shots.flatMap(({ finish }, at) =>
        finish === shot.finish ? [{ op: "replace" as const, path: `/shots/${at}/finish`, value: "" }] : [],
      ),
      { op: "remove", path: `/finishes/${row}` },
    ]);
  const shared = document.shots.filter(({ finish }) => finish && finish === shot.finish).length;
  return (
    <Section title="Finish of its stills" tone={partColours.shots} wide>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 0.5 }}>
        <TextField
          select
          label="Finish"
          value={row < 0 ? NONE : shot.finish}
          onChange={(event) => choose(event.target.value)}
          sx={{ width: 200 }}
        >
          <MenuItem value={NONE}>None</MenuItem>
          {document.finishes.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
          <MenuItem value={NEW}>A new one</MenuItem>
        </TextField>
        {row >= 0 && (
          <>
            <NameField name={document.finishes[row].name} path={`/finishes/${row}`} />
            <Button onClick={copy}>Copy</Button>
            <Button color="secondary" onClick={remove}>
              Delete
            </Button>
          </>
        )}
        {shared > 1 && <Typography variant="caption">{shared} shots share it.</Typography>}
      </Box>
      {row >= 0 && <InTheView steps={document.finishes[row].steps} />}
      {row >= 0 && (
        <StepList
          of="Finish"
          path={`/finishes/${row}/steps`}
          steps={document.finishes[row].steps}
          kinds={kinds}
          common={HOW_MUCH}
          add="Add a step"
        />
      )}
    </Section>
  );
}

/** Whether the lit view has the tones of the finish, and which steps only stills have. */
function InTheView({ steps }: { steps: FinishStep[] }) {
  const seen = useView((state) => state.finishSeen);
  const tones = useTones(seen ? steps : []);
  const kinds = useVocabulary().data?.steps ?? [];
  const titles = (tones?.meta.left_out ?? []).flatMap((row) => {
    const found = kinds.find(({ kind }) => kind === steps[row]?.kind);
    return found ? [found.title] : [];
  });
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <FormControlLabel
        control={
          <Switch size="small" checked={seen} onChange={(_, finishSeen) => useView.getState().set({ finishSeen })} />
        }
        label="Seen in the lit view"
      />
      {seen && titles.length > 0 && (
        <Typography variant="caption">On stills only: {[...new Set(titles)].join(", ")}.</Typography>
      )}
    </Box>
  );
}
