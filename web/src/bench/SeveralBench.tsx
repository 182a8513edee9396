import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { NumberField } from "../forms/NumberField";
import { objectsOf } from "../place/actions";
import { pivotOf, type Point, type Shift, shiftOperations } from "../site/poses";
import { useDocument, useSiteContext } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { ObjectActions } from "./ObjectActions";
import { Section } from "./parts";

const AXES = ["x", "y", "z"] as const;
const NOTHING: Shift = { by: [0, 0, 0], turn: 0 };

/** Several objects that are picked together: what they are – moving them by numbers – what can be done to all. */
export function SeveralBench({ ids }: { ids: string[] }) {
  const { editor } = useSiteContext();
  const document = useDocument();
  const [shift, setShift] = useState<Shift>(NOTHING);
  const objects = objectsOf(document, ids);
  const apply = () => {
    const free = objects.filter((one) => !one.locked).map((one) => one.id);
    editor.commit(`Move ${free.length} objects`, shiftOperations(document, free, pivotOf(objects), shift));
    setShift(NOTHING);
  };
  const locked = objects.filter((one) => one.locked).length;
  return (
    <>
      <Section title={`${objects.length} objects`} tone={partColours.structures} wide>
        <Typography variant="body2">{objects.map((one) => one.name).join(", ")}</Typography>
        {locked > 0 && <Typography variant="caption">{locked} of them locked: these stay where they are.</Typography>}
        <ObjectActions ids={ids} />
      </Section>
      <Section title="move all by" tone={colours.water}>
        <Box sx={{ width: 260 }}>
          {AXES.map((axis, row) => (
            <NumberField
              key={axis}
              label={`Along ${axis}`}
              value={shift.by[row]}
              low={-100}
              high={100}
              step={0.1}
              unit="m"
              usual={0}
              onLive={(value) =>
                setShift({ ...shift, by: shift.by.map((one, at) => (at === row ? value : one)) as Point })
              }
              onSettle={() => undefined}
            />
          ))}
          <NumberField
            label="Turn about their middle"
            value={shift.turn}
            low={-180}
            high={180}
            step={1}
            unit="°"
            usual={0}
            onLive={(turn) => setShift({ ...shift, turn })}
            onSettle={() => undefined}
          />
          <Button
            variant="contained"
            disabled={shift.turn === 0 && shift.by.every((value) => value === 0)}
            onClick={apply}
          >
            Move them
          </Button>
        </Box>
      </Section>
    </>
  );
}
