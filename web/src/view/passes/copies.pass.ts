import { applyBudget } from "../chunks";
import type { PassModule } from "./pass";

/** Chooses which copies of placed items are drawn, and how finely. */
export const pass: PassModule = {
  order: 10,
  name: "copies",
  make: () => (frame) => {
    frame.copies = applyBudget(frame.scene, frame.camera, frame.budget, frame.nearer);
  },
};
