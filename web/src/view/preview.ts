import { type Placements, placementsOf, type PlacementsMeta } from "../site/placements";
import { replaceEqualDeep } from "@tanstack/react-query";
import { create } from "zustand";
import type { Operation, SceneManifest, SiteDocument } from "../api/client";
import { type Pack, partOf } from "../api/pack";
import { postPack } from "../api/queries";
import type { Picked } from "../site/store";
import { drawnByProcessor } from "../site/machine";

export interface Picture {
  data: Uint8Array;
  width: number;
  height: number;
}

interface PreviewLife {
  items: Record<string, Pick<SceneManifest["items"][number], "leaves" | "colour" | "stiffness">>;
  wind: SceneManifest["wind"];
  coats: SceneManifest["coats"];
  /** Covers that lie as sheets; missing where these were not asked for. */
  blankets?: SceneManifest["blankets"];
}

type PreviewMeta = PreviewLife & {
  scatters: Record<string, PlacementsMeta>;
  /** The job that measures what the change needs; nothing but what life tells comes before it is done. */
  measuring: string | null;
};

interface PreviewState {
  /** Coarse base colours of a change that is being made, by surface. */
  bases: Record<string, Picture>;
  /** Masks in black and white, by surface; null while no mask is looked at. */
  masks: Record<string, Picture> | null;
  /** Placements of a change that is being made, by layer. */
  placements: Record<string, Placements>;
  /** Sheets of deep covers of a change that is being made, by layer. */
  sheets: Record<string, Pack>;
  /** What season and wind would do to items; null while neither is changed. */
  life: PreviewLife | null;
  problem: string;
}

/** What a change that is not saved would look like. */
export const usePreview = create<PreviewState>(() => ({
  bases: {},
  masks: null,
  placements: {},
  sheets: {},
  life: null,
  problem: "",
}));

export interface Wanted {
  operations: Operation[];
  surfaces: string[];
  scatters: string[];
  blankets: boolean;
  mask_of: string | null;
  coarser: number;
}

// What a preview may come to at most; how many cells of it are asked for follows from how long the last ones took.
const MOST_CELLS = 700_000;
const FEWEST_CELLS = 40_000;
/** Milliseconds after which it is asked again whether what a preview needs has been measured. */
const MEASURED_AFTER = 1200;
/** Milliseconds that the answer to a preview should take. */
const PREVIEW_TIME = 70;
/** How many cells a preview may come to at present. */
let affordable = drawnByProcessor ? 120_000 : 400_000;

/** Learn from how long an answer took how many cells the next one may have. */
export function learn(milliseconds: number) {
  const factor = Math.min(2, Math.max(0.5, PREVIEW_TIME / Math.max(1, milliseconds)));
  affordable = Math.min(MOST_CELLS, Math.max(FEWEST_CELLS, affordable * Math.sqrt(factor)));
}

/** What a change touches of what is seen. */
export interface Affected {
  surfaces?: string[];
  /** Layers of placed items. */
  scatters?: string[];
  /** Whether covers that lie as sheets change. */
  blankets?: boolean;
  /** Whether something about items changes that needs no new table of them: their season, their sway. */
  alive?: boolean;
}

/**
 * What a change under one key of the document touches.
 *
 * @param path the change's JSON pointer, and its steps after that key.
 */
export type Affects = (
  change: { path: string; steps: string[] },
  document: SiteDocument,
  scene: SceneManifest,
) => Affected;

/** What a draft changes to the eye, and so what a preview has to bring; `affects` tells that by key of the document. */
export function wantedFor(
  document: SiteDocument,
  scene: SceneManifest,
  operations: Operation[],
  maskLayer: Picked | null,
  affects: Record<string, Affects>,
): Wanted | null {
  const shown = new Set(scene.surfaces.map((surface) => surface.id));
  const touched = operations.flatMap(({ path }) => {
    const [, key, ...steps] = path.split("/");
    return affects[key] ? [affects[key]({ path, steps }, document, scene)] : [];
  });
  let surfaces = new Set(touched.flatMap((one) => one.surfaces ?? []));
  const scatters = new Set(touched.flatMap((one) => one.scatters ?? []));
  const blankets = touched.some((one) => one.blankets);
  const alive = touched.some((one) => one.alive);
  let mask_of: string | null = null;
  if (maskLayer?.id) {
    const cover = document.weather.find((layer) => layer.id === maskLayer.id);
    const scatter = document.planting.find((layer) => layer.id === maskLayer.id);
    mask_of = cover || scatter ? maskLayer.id : null;
    surfaces = new Set(cover ? cover.surfaces : scatter ? scatter.surfaces : []);
  }
  const ids = [...surfaces].filter((id) => shown.has(id));
  const layers = [...scatters].filter((id) => document.planting.some((layer) => layer.id === id && layer.shown));
  if (!ids.length && !layers.length && !alive) return null;
  const cells = scene.surfaces
    .filter((surface) => ids.includes(surface.id))
    .reduce((sum, surface) => sum + surface.cells, 0);
  const coarser = Math.min(3, Math.max(0, Math.ceil(Math.log2(cells / affordable) / 2)));
  return { operations, surfaces: ids, scatters: layers, blankets, mask_of, coarser };
}

/** Asks for previews, one at a time; of several wishes meanwhile only the latest is asked for. */
export class Previewer {
  private going = false;
  private next: { wanted: Wanted; asked: number } | null = null;
  private generation = 0;
  private lastAsked = "";

  constructor(private readonly siteId: string) {}

  /** Ask, unless the same was asked for last; the stamp is what else an answer depends on. */
  ask(wanted: Wanted, stamp: number) {
    const text = JSON.stringify([{ ...wanted, coarser: 0 }, stamp]);
    if (text === this.lastAsked) return;
    this.lastAsked = text;
    this.next = { wanted, asked: performance.now() };
    void this.run();
  }

  /** Forget all previews; answers on their way are dropped. */
  clear() {
    this.generation += 1;
    this.lastAsked = "";
    this.next = null;
    const { bases, masks, placements, life } = usePreview.getState();
    if (masks || life || Object.keys(bases).length || Object.keys(placements).length)
      usePreview.setState({ bases: {}, masks: null, placements: {}, sheets: {}, life: null });
  }

  private async run() {
    if (this.going) return;
    this.going = true;
    while (this.next) {
      const { wanted, asked } = this.next;
      const generation = this.generation;
      this.next = null;
      try {
        const pack = await postPack<PreviewMeta>(`/api/sites/${this.siteId}/preview`, wanted);
        if (wanted.surfaces.length) learn(performance.now() - asked);
        if (generation === this.generation) {
          this.show(wanted, pack);
          // What is tried needs measuring first: its answer is asked for until it comes, or something else is tried.
          if (pack.meta.measuring) this.later(wanted, generation);
          performance.mark("cenote-preview", { detail: { asked } });
        }
      } catch (error) {
        this.lastAsked = "";
        usePreview.setState({ problem: (error as Error).message });
      }
    }
    this.going = false;
  }

  private later(wanted: Wanted, generation: number) {
    const asked = this.lastAsked;
    window.setTimeout(() => {
      if (generation !== this.generation || asked !== this.lastAsked || this.next) return;
      this.next = { wanted, asked: performance.now() };
      void this.run();
    }, MEASURED_AFTER);
  }

  private show(wanted: Wanted, pack: Pack<PreviewMeta>) {
    const state = usePreview.getState();
    const bases = { ...state.bases };
    const masks: Record<string, Picture> = {};
    for (const [name, { data, shape }] of Object.entries(pack.arrays)) {
      const picture = { data: data as Uint8Array, height: shape[0], width: shape[1] };
      if (name.endsWith("/base")) bases[name.slice(0, -5)] = picture;
      else if (name.endsWith("/mask")) masks[name.slice(0, -5)] = picture;
    }
    const placements = { ...state.placements };
    for (const [id, meta] of Object.entries(pack.meta.scatters)) placements[id] = placementsOf(pack, `${id}/`, meta);
    const { items, wind, coats, blankets } = pack.meta;
    // What is the same stays the same object, so that nothing is drawn anew for it.
    const life = replaceEqualDeep<PreviewLife | null>(state.life, { items, wind, coats, blankets });
    const sheets: Record<string, Pack> = {};
    for (const { layer } of blankets ?? []) sheets[layer] = partOf(pack, `${layer}/sheet/`);
    usePreview.setState({
      bases,
      placements,
      masks: wanted.mask_of ? masks : null,
      sheets,
      life,
      problem: "",
    });
  }
}
