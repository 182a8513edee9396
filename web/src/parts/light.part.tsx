import { FormBench } from "../bench/FormBench";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "light",
  name: "Light",
  order: 7,
  tone: partColours.light,
  Bench: ({ document }) => (
    <FormBench group="Light" path="/light" value={document.light} tone={partColours.light} columns={4} />
  ),
};
