import { create } from "zustand";
import type { JobState, Operation } from "../api/client";

export type Part = "ground" | "structures" | "planting" | "weather" | "water" | "light" | "shots";
/** What is picked in the column: a part of the document, and a layer in it where the part has layers. */
export interface Picked {
  part: Part;
  id?: string;
}
export type Look = "lit" | "flat" | "mask";

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

/** A brush that shapes the ground, or paints one of its materials. */
export interface BrushInHand {
  tool: "raise" | "lower" | "smooth" | "flatten" | "roughen" | "paint" | "unpaint";
  radius: number;
  strength: number;
  soft: number;
  /** The id of the material that is painted. */
  paints?: string;
}

interface ViewState {
  picked: Picked | null;
  look: Look;
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
  /** What the view leaves out to stay quick, in words. */
  economy: string;
  /** The brush in hand; none while the pointer picks and moves the camera. */
  brush: BrushInHand | null;
  saving: "saved" | "saving" | "waiting";
  pick: (picked: Picked | null) => void;
  set: (values: Partial<Omit<ViewState, "set" | "pick" | "goTo" | "setJob">>) => void;
  goTo: (shotId: string) => void;
  setJob: (job: JobState) => void;
}

/** As sharp as the screen is, up to a limit that nobody sees past. */
export const FULL_SHARPNESS = Math.min(window.devicePixelRatio, 2);

/** What this page looks at; nothing of it is saved. */
export const useView = create<ViewState>((set) => ({
  picked: null,
  look: "lit",
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
  economy: "",
  brush: null,
  saving: "saved",
  pick: (picked) => set({ picked }),
  set: (values) => set(values),
  goTo: (shotId) => set((state) => ({ shotId, shotTicket: state.shotTicket + 1 })),
  setJob: (job) => set((state) => ({ jobs: { ...state.jobs, [job.id]: job } })),
}));
