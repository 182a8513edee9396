import { growWithin } from "../grass";
import type { PassModule } from "./pass";

/** Chooses which blades of grass are drawn, and how finely. */
export const pass: PassModule = {
  order: 11,
  name: "grass",
  make: () => (frame) => {
    growWithin(frame.scene, frame.camera, frame.budget);
  },
};
