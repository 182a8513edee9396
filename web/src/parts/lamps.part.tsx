import { LampBench } from "../bench/LampBench";
import { newLamp } from "../site/layers";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "lamps",
  name: "Lamps",
  order: 9,
  tone: partColours.lamps,
  list: "lamps",
  empty: "No lamps. Add with +; most are lit once the sun is down.",
  cost: (id, { lamps }) => {
    const { measure, lumens, watts } = lamps.find((one) => one.id === id)!.lamp;
    return measure === "lumens" ? `${lumens.toLocaleString("en-GB")} lm` : `${watts.toLocaleString("en-GB")} W`;
  },
  add: {
    label: "Add a lamp",
    entries: ({ stage, vocabulary, document, add }) =>
      vocabulary.lamps
        // A measured one begins as another, and is given its file on the bench.
        .filter(({ kind }) => kind !== "measured_lamp")
        .map(({ kind, title }) => ({
          key: kind,
          title: `${title} in view`,
          act: () => add(newLamp(document(), vocabulary, kind, stage.spot())),
        })),
  },
  Bench: ({ id, document }) => {
    const index = document.lamps.findIndex((one) => one.id === id);
    return index < 0 ? null : <LampBench key={id} index={index} />;
  },
};
