import { LightBench } from "../bench/LightBench";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "light",
  name: "Light",
  order: 8,
  tone: partColours.light,
  Bench: ({ document }) => <LightBench light={document.light} />,
};
