import type * as THREE from "three";
import type { Shot } from "../api/client";
import type { Placements } from "./placements";
import type { Point } from "./poses";

/** What the view of a page shows at the moment, for whoever asks from outside of drawing. */
export interface Stage {
  /** The camera as it is now. */
  shot: () => Omit<Shot, "id" | "name">;
  /** The place on the ground that the camera looks at: new things are set down there. */
  spot: () => Point;
  /** What is drawn; null until there is a view. */
  scene: THREE.Scene | null;
  /** Tables of the placed items that are shown, by layer. */
  placed: Map<string, Placements>;
}

/** A stage before there is a view. */
export const emptyStage = (): Stage => ({
  shot: () => ({
    position: [12, 7, 14],
    target: [0, 1, 0],
    lens: 35,
    frame: "3:2",
    upright: false,
    aperture: 0,
    focus: [0, 1, 0],
    finish: "",
    motion: { seconds: 4, rate: 24, moves: [] },
  }),
  spot: () => [0, 0, 0],
  scene: null,
  placed: new Map(),
});
