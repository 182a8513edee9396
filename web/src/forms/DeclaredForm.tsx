import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Tooltip from "@mui/material/Tooltip";
import { memo } from "react";
import type { Structure } from "../api/client";
import { useVocabulary } from "../api/queries";
import { useChange, useDocument } from "../site/context";
import { ColourField } from "./ColourField";
import { type Declared, groupOfItems, labelOf, readable } from "../api/declared";
import { DeclaredList } from "./DeclaredList";
import { DrawnField } from "./DrawnField";
import { NumberField } from "./NumberField";
import { WordsField } from "./WordsField";

interface FormProps {
  /** What the values belong to, for the history: “House”. */
  subject: string;
  /** JSON pointer of the group in the document. */
  path: string;
  declared: Record<string, Declared>;
  value: Record<string, unknown>;
  /** Parameters that are edited elsewhere. */
  without?: string[];
  columns?: number;
  /** Where the object stands whose frame drawn lines and places are kept in. */
  frame?: Structure["placement"] | null;
}

/** Controls for a group of declared parameters: made from the same declaration that the server checks by. */
export const DeclaredForm = memo(function DeclaredForm(props: FormProps) {
  const { subject, path, declared, value, without = NONE, columns = 1, frame = null } = props;
  const names = Object.keys(declared).filter(
    (name) => !without.includes(name) && isSimple(declared[name]) && counts(declared[name], value),
  );
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: `repeat(${columns}, minmax(120px, 1fr))`,
        columnGap: 2,
        rowGap: 0.25,
      }}
    >
      {names.map((name) => (
        <DeclaredField
          key={name}
          name={name}
          subject={subject}
          group={path}
          declared={declared[name]}
          value={value[name]}
          frame={frame}
        />
      ))}
    </Box>
  );
});

const NONE: string[] = [];

/** Whether a parameter counts as the others of its group are set. */
const counts = (entry: Declared, value: Record<string, unknown>): boolean =>
  Object.entries(entry.counts_with ?? {}).every(([name, wanted]) => [wanted].flat().includes(value[name]));

function isSimple(entry: Declared): boolean {
  return (
    Boolean(entry.picks) ||
    Boolean(entry.enum && entry.enum.length > 1) ||
    entry.type === "number" ||
    entry.type === "integer" ||
    entry.type === "boolean" ||
    (entry.type === "array" && entry.names !== undefined) ||
    entry.text === true ||
    (entry.draws !== undefined && entry.draws !== "strokes") ||
    groupOfItems(entry) !== undefined
  );
}

interface FieldProps {
  name: string;
  subject: string;
  group: string;
  declared: Declared;
  value: unknown;
  frame: Structure["placement"] | null;
}

const DeclaredField = memo(function DeclaredField({ name, subject, group, declared, value, frame }: FieldProps) {
  const change = useChange();
  const path = `${group}/${name}`;
  const label = labelOf(name, declared);
  const title = `${subject}: ${label.toLowerCase()}`;
  const put = (wanted: unknown) => [{ op: "replace" as const, path, value: wanted }];

  if (groupOfItems(declared))
    return (
      <DeclaredList
        {...{ subject, path, name, declared, value: value as Record<string, unknown>[], Entry: DeclaredForm }}
      />
    );
  if (declared.draws && !declared.names) return <DrawnField {...{ subject, group, name, declared, value, frame }} />;
  if (declared.text)
    return (
      <WordsField
        label={label}
        help={declared.description}
        most={declared.maxLength}
        value={value as string}
        onDone={(wanted) => change.now(title, put(wanted))}
      />
    );
  if (declared.picks)
    return <PickField {...{ declared, value, label }} onPick={(wanted) => change.now(title, put(wanted))} />;
  if (declared.enum)
    return (
      <Tooltip describeChild title={declared.description ?? ""} placement="top">
        <TextField
          select
          label={label}
          value={value}
          onChange={(event) => change.now(title, put(event.target.value))}
          sx={{ mt: 0.75, minWidth: 110 }}
        >
          {declared.enum.map((word) => (
            <MenuItem key={word} value={word} dense>
              {readable(word)}
            </MenuItem>
          ))}
        </TextField>
      </Tooltip>
    );
  if (declared.colour)
    return (
      <ColourField
        label={label}
        help={declared.description}
        value={value as number[]}
        onLive={(wanted) => change.live(title, put(wanted))}
        onSettle={change.settle}
      />
    );
  if (declared.type === "boolean") {
    return (
      <Tooltip describeChild title={declared.description ?? ""}>
        <FormControlLabel
          control={
            <Switch size="small" checked={Boolean(value)} onChange={(e) => change.now(title, put(e.target.checked))} />
          }
          label={label}
          slotProps={{ typography: { variant: "caption" } }}
        />
      </Tooltip>
    );
  }
  if (declared.type === "array") {
    const numbers = value as number[];
    const names = declared.names!;
    return (
      <Box sx={{ gridColumn: "span 1" }}>
        {numbers.map((number, index) => (
          <NumberField
            key={names[index]}
            label={`${label}, ${names[index]}`}
            help={declared.description}
            value={number}
            low={declared.least!}
            high={declared.most!}
            step={declared.step!}
            unit={declared.unit}
            usual={(declared.default as number[] | undefined)?.[index]}
            onLive={(wanted) => change.live(title, put(inOrder(numbers, index, wanted, declared.ordered === true)))}
            onSettle={change.settle}
          />
        ))}
        {declared.draws && <DrawnField {...{ subject, group, name, declared, value, frame }} />}
      </Box>
    );
  }
  return (
    <NumberField
      label={label}
      help={declared.description}
      value={value as number}
      low={declared.minimum ?? 0}
      high={declared.maximum ?? 1}
      step={declared.step ?? 0.01}
      unit={declared.unit}
      usual={declared.default as number | undefined}
      whole={declared.type === "integer"}
      onLive={(wanted) => change.live(title, put(wanted))}
      onSettle={change.settle}
    />
  );
});

/** Put a number into a list; of a least and most pair, the other one gives way. */
function inOrder(numbers: number[], index: number, wanted: number, pair: boolean): number[] {
  const next = numbers.map((number, i) => (i === index ? wanted : number));
  if (pair && next[0] > next[1]) next[1 - index] = wanted;
  return next;
}

/** What it means that none is picked. */
const NONE_PICKED: Partial<Record<NonNullable<Declared["picks"]>, string>> = {
  objects: "All structures",
  zones: "All zones",
  planting: "None picked",
  covers: "None picked",
  shots: "All shots",
  parts: "All parts",
  surfaces: "No surface",
};

/** Names of parts that can be picked: parts are called after what they are made of. */
function partsOf(materials: { kind: string; title: string }[], picked: unknown) {
  const known = new Set(materials.map(({ kind }) => kind));
  return [
    ...materials,
    ...(Array.isArray(picked) ? (picked as string[]) : [])
      .filter((kind) => !known.has(kind))
      .map((kind) => ({ kind, title: kind })),
  ];
}

/** A choice among kit items, materials, surfaces, objects, zones, layers, covers, shots or states of the dials. */
export function PickField({
  declared,
  value,
  label,
  onPick,
}: {
  declared: Declared;
  value: unknown;
  label: string;
  onPick: (value: unknown) => void;
}) {
  const vocabulary = useVocabulary();
  const document = useDocument();
  const objects = document.structures.map(({ id, name }) => ({ kind: id, title: name }));
  const choices = {
    kit: [...document.kit.map(({ id, name }) => ({ kind: id, title: name })), ...(vocabulary.data?.kit ?? [])],
    material: [
      ...document.materials.map(({ id, name }) => ({ kind: id, title: name })),
      ...(vocabulary.data?.materials ?? []),
    ],
    surface: [{ kind: "ground", title: "Ground" }, ...objects],
    surfaces: [{ kind: "ground", title: "Ground" }, ...objects],
    objects,
    zones: document.zones.map(({ id, name }) => ({ kind: id, title: name })),
    planting: document.planting.map(({ id, name }) => ({ kind: id, title: name })),
    covers: document.weather.map(({ id, name }) => ({ kind: id, title: name })),
    shots: document.shots.map(({ id, name }) => ({ kind: id, title: name })),
    states: document.states.map(({ id, name }) => ({ kind: id, title: name })),
    parts: partsOf(vocabulary.data?.materials ?? [], value),
  }[declared.picks!];
  const many = Array.isArray(value);
  return (
    <TextField
      select
      label={label}
      value={value}
      helperText={many && value.length === 0 ? NONE_PICKED[declared.picks!] : undefined}
      onChange={(event) => onPick(event.target.value)}
      slotProps={{ select: { multiple: many } }}
      sx={{ mt: 0.75, minWidth: 120 }}
    >
      {choices.map((choice) => (
        <MenuItem key={choice.kind} value={choice.kind} dense>
          {choice.title}
        </MenuItem>
      ))}
    </TextField>
  );
}
