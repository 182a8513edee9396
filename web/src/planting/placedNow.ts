import type { Placements } from "../view/preview";

/** The items that the view shows at present, by layer: for what picks among them. */
export const placedNow = new Map<string, Placements>();
