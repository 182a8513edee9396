import { create } from "zustand";
import type { Operation, SiteDocument, WhyAnswer } from "../api/client";
import { type InHand, itemToolIn } from "./inHand";
import { drawnByProcessor } from "./machine";

/** A part of the site, by its key in the document. */
export type Part = keyof SiteDocument;
/** What is picked in the column: a part of the document, and a layer in it where the part has layers. */
export interface Picked {
  part: Part;
  id?: string;
}
/** What an object comes to lie on when it is moved: whatever is under the pointer, the ground alone, or its own level. */
export type Snap = "surfaces" | "ground" | "level";
/** What of the site the view shows: lit, its colours alone, or the picked mask. */
export type Showing = "lit" | "flat" | "mask" | "still";

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

/** A point that somebody asks about, where it is on the page, and what was answered. */
export interface Asked {
  x: number;
  y: number;
  answer: WhyAnswer | null;
  problem: string;
}

interface ViewState {
  picked: Picked | null;
  /** More layers of its part that are picked together with the first. */
  alsoPicked: string[];
  /** What moved objects come to lie on. */
  snap: Snap;
  /** Counts moves by handle, so that what marks the picked objects follows. */
  moved: number;
  showing: Showing;
  peeking: boolean;
  /** The finest texel that what is seen from near is brought to, metres; 0 for no finer than all the rest. */
  finest: number;
  shotId: string | null;
  /** Whether it is marked what the shot's picture takes in. */
  framing: boolean;
  /** Counts requests to go to the shot again. */
  shotTicket: number;
  draft: Draft | null;
  conflict: Conflict | null;
  notice: { text: string; tone: "info" | "error" } | null;
  /** Whether the lit site is seen with the tones of its shot's finish. */
  finishSeen: boolean;
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
  /** What is in the hand; none while the pointer picks and moves the camera. */
  inHand: InHand | null;
  /** Counts tables of placed items that have come. */
  tableTicket: number;
  /** Ids of placed items that are picked, of the layer that is picked. */
  placed: string[];
  /** What the probe was answered. */
  asked: Asked | null;
  /** Whether the wind is seen moving, and how many pictures of it a second there are; 0 while it keeps still. */
  windMoves: boolean;
  windPace: number;
  /** Whether the keyboard's focus is to go on to the bench. */
  toBench: boolean;
  saving: "saved" | "saving" | "waiting";
  /** Pick one thing; with `also`, a structure or lamp is added to those picked already, or taken from them. */
  pick: (picked: Picked | null, also?: boolean) => void;
  /** Pick what was just made: the keyboard's focus goes on to the bench, where one sees to it. */
  present: (picked: Picked) => void;
  set: (values: Partial<Omit<ViewState, "set" | "pick" | "present" | "take" | "goTo">>) => void;
  /** Take something in the hand, in place of whatever is in it; null puts that down. */
  take: (inHand: InHand | null) => void;
  goTo: (shotId: string) => void;
}

/** Parts of which several layers are picked together. */
const SEVERAL: Part[] = ["structures", "lamps"];

type WhatIsPicked = Pick<ViewState, "picked" | "alsoPicked">;

/** The ids of all that is picked of a part, the first one first. */
export const pickedOf =
  (part: Part) =>
  ({ picked, alsoPicked }: WhatIsPicked): string[] =>
    picked?.part === part && picked.id ? [picked.id, ...alsoPicked] : [];

/** The ids of all picked structures. */
export const pickedObjects = pickedOf("structures");

/** Whether a press in the view means something else than picking what is under it. */
export const handBusy = ({ inHand }: Pick<ViewState, "inHand">): boolean => inHand !== null;

/** What goes with whatever was picked: its items, and the tool that picks and sets them. */
const leaving = (state: ViewState) => ({ placed: [], inHand: itemToolIn(state) ? null : state.inHand });

/** As sharp as the screen is, up to a limit that nobody sees past. */
export const FULL_SHARPNESS = Math.min(window.devicePixelRatio, 2);

/** What this page looks at; nothing of it is saved. */
export const useView = create<ViewState>((set, get) => ({
  picked: null,
  showing: "lit",
  peeking: false,
  // Where the processor draws, each rest would keep it busy for many seconds: there it is for who asks for it.
  finest: drawnByProcessor ? 0 : 0.001,
  shotId: null,
  framing: false,
  shotTicket: 0,
  draft: null,
  conflict: null,
  notice: null,
  finishSeen: true,
  sharpness: FULL_SHARPNESS,
  siteShown: false,
  parted: null,
  partedBefore: null,
  economy: "",
  inHand: null,
  tableTicket: 0,
  placed: [],
  asked: null,
  windMoves: !drawnByProcessor && !window.matchMedia?.("(prefers-reduced-motion: reduce)").matches,
  windPace: 0,
  toBench: false,
  saving: "saved",
  alsoPicked: [],
  snap: "surfaces",
  moved: 0,
  pick: (picked, also = false) =>
    set((state) => {
      const ids = picked ? pickedOf(picked.part)(state) : [];
      if (!also || !picked?.id || !ids.length || !SEVERAL.includes(picked.part))
        return { picked, alsoPicked: [], ...(picked?.id === state.picked?.id ? {} : leaving(state)) };
      const next = ids.includes(picked.id) ? ids.filter((id) => id !== picked.id) : [...ids, picked.id];
      return { picked: next.length ? { part: picked.part, id: next[0] } : null, alsoPicked: next.slice(1) };
    }),
  present: (picked) => {
    get().pick(picked);
    set({ toBench: true });
  },
  set: (values) => set(values),
  take: (inHand) => set({ inHand }),
  goTo: (shotId) => set((state) => ({ shotId, shotTicket: state.shotTicket + 1 })),
}));
