import AddIcon from "@mui/icons-material/Add";
import ArrowDownIcon from "@mui/icons-material/ArrowDownward";
import ArrowUpIcon from "@mui/icons-material/ArrowUpward";
import DeleteIcon from "@mui/icons-material/DeleteOutline";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { declaredKind, defaultsOf } from "../api/declared";
import { plainButton, VisibilityButton } from "./VisibilityButton";
import { DeclaredForm } from "./DeclaredForm";
import { useChange } from "../site/context";
import { colours } from "../theme/theme";

/** Something that is done in its turn; what has no switch is always done. */
interface Step {
  kind: string;
  on?: boolean;
}

/** What a step does, and below that how much of it is done, and where. */
function StepForm({ title, path, step, common }: { title: string; path: string; step: Step; common: string[] }) {
  const declared = declaredKind(step.kind);
  const names = Object.keys(declared);
  const forms = [["on", ...common], names.filter((name) => !common.includes(name))];
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

interface StepListProps {
  /** What they are steps of, as the history calls it. */
  of: string;
  /** Where the list is in the document. */
  path: string;
  steps: Step[];
  kinds: { kind: string; title: string; help: string }[];
  /** What steps of all kinds have: it comes below what each has of its own. */
  common: string[];
  add: string;
}

/** Steps in their order, each of a kind that declares its parameters: one is open at a time. */
export function StepList({ of, path, steps, kinds, common, add }: StepListProps) {
  const change = useChange();
  const [open, setOpen] = useState<number | null>(null);
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const titleOf = (kind: string) => kinds.find((one) => one.kind === kind)?.title ?? kind;
  const move = (from: number, to: number) => {
    change.now(`${of}: move ${titleOf(steps[from].kind)}`, [
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
          <Box key={row} sx={{ borderTop: `1px solid ${colours.rule}`, opacity: step.on === false ? 0.55 : 1 }}>
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
              {step.on !== undefined && (
                <VisibilityButton
                  shown={step.on}
                  name={title}
                  onClick={() =>
                    change.now(`${of}: ${title} ${step.on ? "off" : "on"}`, [
                      { op: "replace", path: `${path}/${row}/on`, value: !step.on },
                    ])
                  }
                />
              )}
              <IconButton
                aria-label={`Delete ${title}`}
                onClick={() => {
                  change.now(`${of}: delete ${title}`, [{ op: "remove", path: `${path}/${row}` }]);
                  setOpen(null);
                }}
              >
                <DeleteIcon sx={{ fontSize: 16 }} />
              </IconButton>
            </Box>
            {open === row && <StepForm title={title} path={`${path}/${row}`} step={step} common={common} />}
          </Box>
        );
      })}
      <Button startIcon={<AddIcon />} onClick={(event) => setAdding(event.currentTarget)}>
        {add}
      </Button>
      <Menu anchorEl={adding} open={adding !== null} onClose={() => setAdding(null)}>
        {kinds.map(({ kind, title, help }) => (
          <MenuItem
            key={kind}
            dense
            title={help}
            onClick={() => {
              change.now(`${of}: add ${title}`, [{ op: "add", path: `${path}/-`, value: defaultsOf(kind) }]);
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
