import { GroundBench } from "../bench/GroundBench";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "ground",
  name: "Ground",
  order: 1,
  tone: partColours.ground,
  affects: { ground: ({ path }) => (path.startsWith("/ground/paints") ? { surfaces: ["ground"] } : {}) },
  Bench: ({ document }) => <GroundBench ground={document.ground} />,
};
