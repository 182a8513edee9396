import AddIcon from "@mui/icons-material/Add";
import ArrowDownIcon from "@mui/icons-material/ArrowDownward";
import ArrowUpIcon from "@mui/icons-material/ArrowUpward";
import DeleteIcon from "@mui/icons-material/DeleteOutline";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useVocabulary } from "../api/queries";
import { declaredKind } from "../api/declared";
import { Section } from "../bench/parts";
import { plainButton, VisibilityButton } from "../column/LayerRow";
import { DeclaredForm } from "../forms/DeclaredForm";
import { NameField } from "../forms/NameField";
import { useChange, useDocument } from "../site/context";
import { useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { newFinish, newStep, type FinishStep } from "./finishes";

const NONE = "none";
const NEW = "new";
/** What all steps have. */
const HOW_MUCH = ["amount", "within", "distance", "soft"];

/** The finish of a shot: which one, and its steps. */
export function FinishSection({ index }: { index: number }) {
  const document = useDocument();
  const change = useChange();
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
            <Button onClick={copy}>Copy for this shot</Button>
            <Button color="secondary" onClick={remove}>
              Delete
            </Button>
          </>
        )}
        {shared > 1 && <Typography variant="caption">{shared} shots share it.</Typography>}
      </Box>
      {row >= 0 && <Steps path={`/finishes/${row}/steps`} steps={document.finishes[row].steps} />}
    </Section>
  );
}

/** What a step does, and below that how much of it is done, and where. */
function StepForm({ title, path, step }: { title: string; path: string; step: FinishStep }) {
  const declared = declaredKind(step.kind);
  const names = Object.keys(declared);
  const forms = [["on", ...HOW_MUCH], names.filter((name) => !HOW_MUCH.includes(name))];
  return (
    <Box sx={{ display: "grid", gap: 0.5, pb: 1 }}>
      {forms.map((without, row) => (
        <DeclaredForm
          key={row}
          subject={title}
          path={path}
          declared={declared}
          value={step as unknown as Record<string, unknown>}
          without={without}
          columns={4}
        />
      ))}
    </Box>
  );
}

/** The steps of a finish in their order: those on light come before those on tones. */
function Steps({ path, steps }: { path: string; steps: FinishStep[] }) {
  const change = useChange();
  const kinds = useVocabulary().data?.steps ?? [];
  const [open, setOpen] = useState<number | null>(null);
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const titleOf = (kind: string) => kinds.find((one) => one.kind === kind)?.title ?? kind;
  const move = (from: number, to: number) => {
    change.now(`Finish: move ${titleOf(steps[from].kind)}`, [
      { op: "remove", path: `${path}/${from}` },
      { op: "add", path: `${path}/${to}`, value: steps[from] },
    ]);
    setOpen(open === from ? to : null);
  };
  return (
    <Box>
      {steps.map((step, row) => {
        const title = titleOf(step.kind);
        return (
          <Box key={row} sx={{ borderTop: `1px solid ${colours.rule}`, opacity: step.on ? 1 : 0.55 }}>
            <Box sx={{ display: "flex", alignItems: "center" }}>
              <Box
                component="button"
                aria-expanded={open === row}
                onClick={() => setOpen(open === row ? null : row)}
                sx={{ ...plainButton, flex: 1, fontWeight: open === row ? 650 : 400 }}
              >
                {title}
              </Box>
              <IconButton aria-label={`Move ${title} up`} disabled={row === 0} onClick={() => move(row, row - 1)}>
                <ArrowUpIcon sx={{ fontSize: 16 }} />
              </IconButton>
              <IconButton
                aria-label={`Move ${title} down`}
                disabled={row === steps.length - 1}
                onClick={() => move(row, row + 1)}
              >
                <ArrowDownIcon sx={{ fontSize: 16 }} />
              </IconButton>
              <VisibilityButton
                shown={step.on}
                name={title}
                onClick={() =>
                  change.now(`Finish: ${title} ${step.on ? "off" : "on"}`, [
                    { op: "replace", path: `${path}/${row}/on`, value: !step.on },
                  ])
                }
              />
              <IconButton
                aria-label={`Delete ${title}`}
                onClick={() => {
                  change.now(`Finish: delete ${title}`, [{ op: "remove", path: `${path}/${row}` }]);
                  setOpen(null);
                }}
              >
                <DeleteIcon sx={{ fontSize: 16 }} />
              </IconButton>
            </Box>
            {open === row && <StepForm title={title} path={`${path}/${row}`} step={step} />}
          </Box>
        );
      })}
      <Button startIcon={<AddIcon />} onClick={(event) => setAdding(event.currentTarget)}>
        Add a step
      </Button>
      <Menu anchorEl={adding} open={adding !== null} onClose={() => setAdding(null)}>
        {kinds.map(({ kind, title, help }) => (
          <MenuItem
            key={kind}
            dense
            title={help}
            onClick={() => {
              change.now(`Finish: add ${title}`, [{ op: "add", path: `${path}/-`, value: newStep(kind) }]);
              setOpen(steps.length);
              setAdding(null);
            }}
          >
            {title}
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}
