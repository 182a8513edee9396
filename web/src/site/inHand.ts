import type { Structure } from "../api/client";
import type { Point, Pose } from "./poses";

/** What strokes over surfaces do: paint into a mask or wipe out of it, sow or thin a scatter. */
export type StrokeTool = "stroke" | "wipe" | "sow" | "thin";

/** A brush that shapes the ground or paints one of its materials, or that goes over any surface. */
export interface Brush {
  tool: "raise" | "lower" | "smooth" | "flatten" | "roughen" | "paint" | "unpaint" | StrokeTool;
  radius: number;
  strength: number;
  soft: number;
  /** The id of the material that is painted. */
  paints?: string;
  /** JSON pointer of the strokes that it adds to, where it goes over any surface; and what to call that. */
  strokes?: string;
  label?: string;
  /** Rows of the mix that it sows or thins; all where it is left out. */
  items?: number[];
}

/** What the pointer does to a scatter's items: sets one down, picks one, or picks by an outline. */
export interface ItemTool {
  tool: "plant" | "pick" | "loop";
  layer: string;
}

/** A line or place that is being drawn in the view, for a parameter. */
export interface Tracing {
  /** What is drawn: an open line, a closed one, or a single place. */
  draws: "path" | "outline" | "place" | "line";
  /** JSON pointer of the group that the parameter belongs to, its name, and what else is set with it. */
  path: string;
  name: string;
  sets: Record<string, string>;
  label: string;
  /** A new entry of a list that the line becomes part of, under `name`; `path` is then the list's end. */
  adds?: object;
  /** The object in whose own frame it is kept; none for the world's. */
  frame: Structure["placement"] | null;
  /** A pose that is turned towards the place, in place of the place itself. */
  aims?: Pose;
  points: Point[];
}

/** The one thing that is in the hand; none while the pointer picks and moves the camera. */
export type InHand =
  | ({ what: "brush" } & Brush)
  | ({ what: "items" } & ItemTool)
  | ({ what: "trace" } & Tracing)
  /** A press takes one of those that a decal's rule lays out of the rule; it is kept as a decal of its own, or not. */
  | { what: "unspread"; decal: string; keep: boolean }
  /** A new decal of a kind, that is laid by a press. */
  | { what: "decal"; kind: string }
  /** Nothing: one walks about. */
  | { what: "walk" }
  /** The probe, and what it was taken up in place of, while its key is held. */
  | { what: "probe"; instead: InHand | null };

export type Of<What extends InHand["what"]> = Extract<InHand, { what: What }>;
interface Holding {
  inHand: InHand | null;
}

/** What is in the hand, if it is of a kind; else null. */
export function holding<What extends InHand["what"]>({ inHand }: Holding, what: What): Of<What> | null {
  return inHand?.what === what ? (inHand as Of<What>) : null;
}
export const brushIn = (state: Holding) => holding(state, "brush");
export const itemToolIn = (state: Holding) => holding(state, "items");
export const tracingIn = (state: Holding) => holding(state, "trace");
export const probingIn = (state: Holding) => state.inHand?.what === "probe";

/** The probe taken up for as long as its key is held; what was in the hand is kept. */
export const probeUp = (inHand: InHand | null): InHand =>
  inHand?.what === "probe" ? inHand : { what: "probe", instead: inHand };
/** The probe put down: what it was taken up in place of is in the hand again. */
export const probeDown = (inHand: InHand | null): InHand | null => (inHand?.what === "probe" ? inHand.instead : inHand);
