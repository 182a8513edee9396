import { ShotBench } from "../bench/ShotBench";
import { ShotPicture } from "../bench/ShotPicture";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "shots",
  name: "Shots",
  order: 10,
  tone: partColours.shots,
  list: "shots",
  empty: "Keep a view to have a shot.",
  Mark: ShotPicture,
  Bench: ({ id, document }) => {
    const index = document.shots.findIndex((one) => one.id === id);
    return index < 0 ? null : <ShotBench index={index} />;
  },
};
