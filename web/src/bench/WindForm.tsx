import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useDocument } from "../site/context";
import { useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { drawnByProcessor } from "../site/machine";
import { stirs } from "../view/WindMotion";
import { Section } from "./parts";

/** The wind over the site, and whether it is seen moving. */
export function WindForm() {
  const { wind, air } = useDocument();
  const moves = useView((state) => state.windMoves);
  const pace = useView((state) => state.windPace);
  const still = !stirs(air, wind);
  return (
    <Section title="Wind" tone={partColours.water} wide>
      <DeclaredForm
        subject="Wind"
        path="/wind"
        declared={declaredGroup("Wind")}
        value={wind as unknown as Record<string, unknown>}
        columns={3}
      />
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={moves}
            disabled={still}
            onChange={(_, on) => useView.getState().set({ windMoves: on })}
          />
        }
        label="Seen moving"
        slotProps={{ typography: { variant: "caption" } }}
      />
      <Typography variant="caption" component="div" sx={{ color: colours.faint }}>
        {still && "Still air: give it a strength to see plants lean and sway, or let it rain."}
        {!still && moves && pace > 0 && `${pace.toFixed(pace < 10 ? 1 : 0)} pictures a second here. `}
        {!still &&
          !moves &&
          drawnByProcessor &&
          "Drawn without a graphics card here: moving costs sharpness and plants. "}
        {!still && "Stills and files take the moment above: merged plants are bent, shared ones lean as a whole."}
      </Typography>
    </Section>
  );
}
