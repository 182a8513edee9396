import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useVocabulary } from "../api/queries";
import { declaredGroup, declaredKind, defaultsOf } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange } from "../site/context";
import { colours } from "../theme/theme";
import { type Drawn, type Layer, newDrawn } from "./recipes";

/** Everything about one layer, in words that belong together. */
export function LayerForm({ layer, path, subject }: { layer: Layer; path: string; subject: string }) {
  const values = layer as unknown as Record<string, unknown>;
  return (
    <Box sx={{ pl: 1, pb: 1, borderLeft: `2px solid ${colours.ruleDark}` }}>
      <DeclaredForm
        subject={subject}
        path={path}
        declared={declaredKind(layer.kind)}
        value={values}
        without={["shown", "name"]}
      />
      {layer.kind === "pattern" && (
        <>
          <DrawnForm drawn={layer.drawn as Drawn} path={`${path}/drawn`} subject={subject} title="drawn with" />
          <Use group="ColourUse" name="colour" title="paints colour" {...{ values, path, subject }} />
          <Use group="ValueUse" name="relief" title="builds relief" {...{ values, path, subject }} />
          <Use group="ValueUse" name="roughness" title="sets roughness" {...{ values, path, subject }} />
          <Use group="ValueUse" name="metalness" title="sets metalness" {...{ values, path, subject }} />
        </>
      )}
      <MaskForm mask={(values.mask as Drawn | null) ?? null} path={`${path}/mask`} subject={subject} />
    </Box>
  );
}

function Title({ text, children }: { text: string; children?: React.ReactNode }) {
  return (
    <Box sx={{ display: "flex", alignItems: "center", mt: 0.75, borderTop: `1px solid ${colours.rule}` }}>
      <Typography variant="caption" sx={{ flex: 1, fontWeight: 600, color: colours.faint }}>
        {text}
      </Typography>
      {children}
    </Box>
  );
}

function DrawnForm({ drawn, path, subject, title }: { drawn: Drawn; path: string; subject: string; title: string }) {
  const change = useChange();
  const patterns = useVocabulary().data?.patterns ?? [];
  const { kind } = drawn.pattern;
  return (
    <>
      <Title text={title} />
      <TextField
        select
        fullWidth
        value={kind}
        helperText={patterns.find((one) => one.kind === kind)?.help}
        onChange={(event) =>
          change.now(`${subject}: pattern`, [
            { op: "replace", path: `${path}/pattern`, value: defaultsOf(event.target.value) },
          ])
        }
        slotProps={{ htmlInput: { "aria-label": `${title}: pattern` } }}
        sx={{ my: 0.5 }}
      >
        {patterns.map((one) => (
          <MenuItem key={one.kind} value={one.kind} dense>
            {one.title}
          </MenuItem>
        ))}
      </TextField>
      <DeclaredForm
        subject={subject}
        path={`${path}/pattern`}
        declared={declaredKind(kind)}
        value={drawn.pattern as unknown as Record<string, unknown>}
      />
      <DeclaredForm
        subject={subject}
        path={path}
        declared={declaredGroup("Drawn")}
        value={drawn as unknown as Record<string, unknown>}
      />
    </>
  );
}

function MaskForm({ mask, path, subject }: { mask: Drawn | null; path: string; subject: string }) {
  const change = useChange();
  const put = (value: Drawn | null) =>
    change.now(`${subject}: ${value ? "add" : "remove"} mask`, [{ op: "replace", path, value }]);
  return mask ? (
    <>
      <DrawnForm drawn={mask} path={path} subject={subject} title="only where this is bright" />
      <Button color="secondary" onClick={() => put(null)}>
        Delete the mask
      </Button>
    </>
  ) : (
    <Button onClick={() => put(newDrawn())}>Add a mask</Button>
  );
}

interface UseProps {
  group: "ColourUse" | "ValueUse";
  name: string;
  title: string;
  values: Record<string, unknown>;
  path: string;
  subject: string;
}

/** What a layer does to one channel; switched on and off as a whole. */
function Use({ group, name, title, values, path, subject }: UseProps) {
  const change = useChange();
  const declared = declaredGroup(group);
  const value = values[name] as Record<string, unknown> | null;
  const put = (next: unknown) =>
    change.now(`${subject}: ${next ? title : `no ${name}`}`, [{ op: "replace", path: `${path}/${name}`, value: next }]);
  return (
    <>
      <Title text={title}>
        <Button
          aria-label={`${value ? "Delete" : "Add"} ${name}`}
          onClick={() =>
            put(value ? null : Object.fromEntries(Object.entries(declared).map(([key, entry]) => [key, entry.default])))
          }
        >
          {value ? "Delete" : "Add"}
        </Button>
      </Title>
      {value && <DeclaredForm subject={subject} path={`${path}/${name}`} declared={declared} value={value} />}
    </>
  );
}
