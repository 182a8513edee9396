import { create } from "zustand";
import type { JobState, Operation, Structure, WhyAnswer } from "../api/client";
import type { Point } from "./poses";
import { drawnByProcessor } from "./machine";

export type Part = "ground" | "zones" | "structures" | "planting" | "weather" | "water" | "light" | "shots";
/** What is picked in the column: a part of the document, and a layer in it where the part has layers. */
export interface Picked {
  part: Part;
  id?: string;
}
/** What an object comes to lie on when it is moved: whatever is under the pointer, the ground alone, or its own level. */
export type Snap = "surfaces" | "ground" | "level";
/** What of the site the view shows: lit, its colours alone, or the picked mask. */
export type Showing = "lit" | "flat" | "mask";

/** A change that is being made and not yet saved: its gesture, what it does, and what to call it. */
export interface Draft {
  gesture: string;
  label: string;
  operations: Operation[];
}

export interface Conflict {
  message: string;
  label: string;
  operations: Operation[];
}

/** What strokes over surfaces do: paint into a mask or wipe out of it, sow or thin a scatter. */
export type StrokeTool = "stroke" | "wipe" | "sow" | "thin";

/** A brush that shapes the ground or paints one of its materials, or that goes over any surface. */
export interface BrushInHand {
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
export interface PlantingTool {
  tool: "plant" | "pick" | "loop";
  layer: string;
}

/** A point that somebody asks about, where it is on the page, and what was answered. */
export interface Asked {
  x: number;
  y: number;
  answer: WhyAnswer | null;
  problem: string;
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
  points: Point[];
}

interface ViewState {
  picked: Picked | null;
  /** More structures that are picked together with the first. */
  alsoPicked: string[];
  /** What moved objects come to lie on. */
  snap: Snap;
  /** Counts moves by handle, so that what marks the picked objects follows. */
  moved: number;
  tracing: Tracing | null;
  showing: Showing;
  peeking: boolean;
  /** Side of a texel that is wanted, metres; 0 leaves it to what suits the site. */
  texel: number;
  shotId: string | null;
  /** Counts requests to go to the shot again. */
  shotTicket: number;
  draft: Draft | null;
  conflict: Conflict | null;
  notice: { text: string; tone: "info" | "error" } | null;
  jobs: Record<string, JobState>;
  /** Pixels drawn for each pixel of the page's own unit, in either direction. */
  sharpness: number;
  /** Whether the whole site has been drawn once, be it coarse. */
  siteShown: boolean;
  /** Share of the view, from the left, that shows the site without weather; null where it is whole. */
  parted: number | null;
  /** Where the parting was before all was flipped to before. */
  partedBefore: number | null;
  /** What the view leaves out to stay quick, in words. */
  economy: string;
  /** The brush in hand; none while the pointer picks and moves the camera. */
  brush: BrushInHand | null;
  planting: PlantingTool | null;
  /** Counts tables of placed items that have come. */
  tableTicket: number;
  /** Ids of placed items that are picked, of the layer that is picked. */
  placed: string[];
  /** Whether the pointer asks why, and what it was answered. */
  probing: boolean;
  asked: Asked | null;
  /** Whether the wind is seen moving, and how many pictures of it a second there are; 0 while it keeps still. */
  windMoves: boolean;
  windPace: number;
  saving: "saved" | "saving" | "waiting";
  /** Pick one thing; with `also`, a structure is added to those picked already, or taken from them. */
  pick: (picked: Picked | null, also?: boolean) => void;
  set: (values: Partial<Omit<ViewState, "set" | "pick" | "goTo" | "setJob">>) => void;
  goTo: (shotId: string) => void;
  setJob: (job: JobState) => void;
}

/** The ids of all picked structures, the first one first. */
export function pickedObjects({ picked, alsoPicked }: Pick<ViewState, "picked" | "alsoPicked">): string[] {
  return picked?.part === "structures" && picked.id ? [picked.id, ...alsoPicked] : [];
}

/** Whether a press in the view means something else than picking what is under it. */
export function handBusy({ tracing, planting, brush, probing }: ViewState): boolean {
  return tracing !== null || planting !== null || brush !== null || probing;
}

/** As sharp as the screen is, up to a limit that nobody sees past. */
export const FULL_SHARPNESS = Math.min(window.devicePixelRatio, 2);

/** What this page looks at; nothing of it is saved. */
export const useView = create<ViewState>((set) => ({
  picked: null,
  showing: "lit",
  peeking: false,
  texel: 0,
  shotId: null,
  shotTicket: 0,
  draft: null,
  conflict: null,
  notice: null,
  jobs: {},
  sharpness: FULL_SHARPNESS,
  siteShown: false,
  parted: null,
  partedBefore: null,
  economy: "",
  brush: null,
  planting: null,
  tableTicket: 0,
  placed: [],
  probing: false,
  asked: null,
  windMoves: !drawnByProcessor && !window.matchMedia?.("(prefers-reduced-motion: reduce)").matches,
  windPace: 0,
  saving: "saved",
  alsoPicked: [],
  snap: "surfaces",
  moved: 0,
  tracing: null,
  pick: (picked, also = false) =>
    set((state) => {
      const ids = pickedObjects(state);
      if (!also || picked?.part !== "structures" || !picked.id || !ids.length)
        return { picked, alsoPicked: [], ...(picked?.id === state.picked?.id ? {} : { placed: [], planting: null }) };
      const next = ids.includes(picked.id) ? ids.filter((id) => id !== picked.id) : [...ids, picked.id];
      return { picked: next.length ? { part: "structures", id: next[0] } : null, alsoPicked: next.slice(1) };
    }),
  set: (values) => set(values),
  goTo: (shotId) => set((state) => ({ shotId, shotTicket: state.shotTicket + 1 })),
  setJob: (job) => set((state) => ({ jobs: { ...state.jobs, [job.id]: job } })),
}));
