import Button from "@mui/material/Button";
import { NumberField } from "../forms/NumberField";
import type { Of } from "../site/inHand";
import { useView } from "../site/store";

/** Radius, strength and edge of the brush in hand. */
export function BrushForm({ brush, unit }: { brush: Of<"brush">; unit: string }) {
  const put = (values: Partial<Of<"brush">>) => useView.getState().take({ ...brush, ...values });
  const done = () => undefined;
  return (
    <>
      <NumberField
        label="Radius"
        help="Radius of the brush; [ and ] change it too."
        value={brush.radius}
        low={0.05}
        high={50}
        step={0.05}
        unit="m"
        usual={1.5}
        onLive={(radius) => put({ radius })}
        onSettle={done}
      />
      <NumberField
        label="Strength"
        help="How much one stroke does."
        value={brush.strength}
        low={0.01}
        high={unit === "m" ? 5 : 1}
        step={0.01}
        unit={unit}
        usual={0.25}
        onLive={(strength) => put({ strength })}
        onSettle={done}
      />
      <NumberField
        label="Soft edge"
        help="How much of the radius fades out."
        value={brush.soft}
        low={0}
        high={1}
        step={0.05}
        usual={0.7}
        onLive={(soft) => put({ soft })}
        onSettle={done}
      />
      <Button onClick={() => useView.getState().take(null)}>Put the brush down</Button>
    </>
  );
}
