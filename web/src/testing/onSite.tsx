import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render } from "@testing-library/react";
import type { ReactNode } from "react";
import type { Operation, SiteDocument, SiteState, Vocabulary } from "../api/client";
import { defaultsOfGroup } from "../api/declared";
import { type SiteContext, SiteContextValue } from "../site/context";
import type { Editor } from "../site/editor";
import { applyOperations } from "../site/patch";
import { emptyStage } from "../site/stage";
import { type Draft, useView } from "../site/store";

export const SITE = "site-1";

/** A change as the history would name it. */
export interface Made {
  label: string;
  operations: Operation[];
}

const signal = (kind: string, title: string, unit: string, low: number, high: number, on_cells = false) => ({
  kind,
  title,
  unit,
  low,
  high,
  starts_at: low,
  full_at: high,
  on_cells,
  help: `${title}, in words.`,
});

/** A few of each family, as the server tells them. */
export const vocabulary = {
  signals: [
    signal("slope", "Slope", "°", 0, 180),
    signal("sky", "Sky exposure", "", 0, 1, true),
    signal("distance", "Distance", "m", 0, 10),
    signal("noise", "Noise", "", 0, 1),
  ],
  covers: [
    { kind: "moss", title: "Moss", help: "Green.", where: { cards: [], shared: "" }, coats: true, of_rain: false },
    { kind: "snow", title: "Snow", help: "White.", where: { cards: [], shared: "" }, coats: true, of_rain: false },
    { kind: "wetness", title: "Wetness", help: "Wet.", where: { cards: [], shared: "" }, coats: true, of_rain: true },
  ],
  starters: {
    scatter: { ...defaultsOfGroup("Scatter"), id: "new", name: "Mixed growth", mix: [{ item: "fern" }, { item: "stone" }], where: { cards: [], shared: "" } },
    paint: { ...defaultsOfGroup("PaintedMaterial"), id: "new", name: "Earth" },
    pattern_layer: { ...defaultsOfGroup("PatternLayer"), kind: "pattern", name: "Layer", drawn: {}, colour: null },
  },
  steps: [
    { kind: "exposure", title: "Exposure", help: "Brighter or darker." },
    { kind: "vignette", title: "Vignette", help: "Darker corners." },
  ],
  moves: [
    { kind: "turntable", title: "Turntable", help: "Round." },
    { kind: "travel", title: "Travel", help: "To another shot." },
  ],
  makers: [{ kind: "wall", title: "Wall", help: "A wall." }],
  decals: [
    { kind: "leak", title: "Leak", help: "A stain.", size: [0.7, 1.6], reach: 0.4, lies: "over the weather", hangs: "by its upper side", where: { cards: [{ id: "slope", signal: { kind: "slope" }, starts_at: 60, full_at: 30, combine: "multiply", enabled: true, soft: true, inverted: false }], shared: "" } },
    { kind: "stencil", title: "Stencilled letters", help: "Paint.", size: [0.9, 0.4], reach: 0.4, lies: "under the weather", hangs: "by its middle", where: { cards: [], shared: "" } },
  ],
  droplets: [
    { kind: "beads", title: "Beads", help: "Drops that lie." },
    { kind: "runs", title: "Running drops", help: "Drops that run." },
  ],
  droplet_presets: [
    { kind: "after_rain", title: "A shower just past", help: "After rain.", layers: [{ name: "Fallen rain", droplets: { kind: "beads" } }, { name: "Along the edges", droplets: { kind: "hanging" } }] },
  ],
  lamps: [
    { kind: "point_lamp", title: "Point lamp", help: "All around." },
    { kind: "spot_lamp", title: "Spot lamp", help: "A cone." },
    { kind: "measured_lamp", title: "Measured lamp", help: "By a file." },
  ],
  materials: [
    { kind: "brick", title: "Brick", help: "Red.", group: "Walls", nature: "masonry", recipe: { layers: [] } },
    { kind: "rock", title: "Rock", help: "Grey.", group: "Stone", nature: "stone", recipe: { layers: [] } },
  ],
  patterns: [
    { kind: "clouds", title: "Clouds", help: "Soft noise." },
    { kind: "cells", title: "Cells", help: "Cells." },
  ],
  kit: [
    { kind: "fern", title: "Fern", tags: [], variants: 4, grows: true, triangles: [900, 300, 40], size: [1, 0.6, 1],
      help: "A fern.", group: "herbs", adjustable: true },
    { kind: "stone", title: "Field stone", tags: [], variants: 6, grows: false, triangles: [300, 90, 20], size: [1, 1, 1],
      help: "A stone.", group: "stones", adjustable: true },
  ],
} as unknown as Vocabulary; // prettier-ignore

/** A document with the declared defaults and whatever is given of it. */
export function documentWith(parts: object): SiteDocument {
  return { ...defaultsOfGroup("SiteDocument"), ...parts } as SiteDocument;
}

/** A group's declared defaults with some values. */
export function made<Group>(name: string, values: object): Group {
  return { ...defaultsOfGroup(name), ...values } as Group;
}

/**
 * Show something as on a site's page, without a server: changes are applied to the document and written down.
 *
 * @param parts what the document has besides its defaults.
 * @param answers what the server has answered already, by keys of the query cache.
 */
export function onSite(children: ReactNode, parts: object = {}, answers: [unknown[], unknown][] = []) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } });
  const commits: Made[] = [];
  const drafts: Draft[] = [];
  const state = () => queries.getQueryData<SiteState>(["site", SITE])!;
  const apply = (operations: Operation[]) =>
    queries.setQueryData<SiteState>(["site", SITE], {
      ...state(),
      document: applyOperations(state().document, operations),
    });
  queries.setQueryData(["site", SITE], { id: SITE, name: "Yard", revision: 1, document: documentWith(parts) });
  queries.setQueryData(["vocabulary"], vocabulary);
  queries.setQueryData(["shot pictures", SITE], {});
  for (const [key, answer] of answers) queries.setQueryData(key, answer);
  const editor = {
    state,
    commit(label: string, operations: Operation[]) {
      commits.push({ label, operations });
      apply(operations);
    },
    draft(draft: Draft) {
      drafts.push(draft);
      useView.setState({ draft });
    },
    settle() {
      const { draft } = useView.getState();
      if (draft) this.commit(draft.label, draft.operations);
      useView.setState({ draft: null });
    },
    idle: () => Promise.resolve(),
  };
  const context: SiteContext = { siteId: SITE, editor: editor as unknown as Editor, stage: emptyStage() };
  const whole = (inside: ReactNode) => (
    <QueryClientProvider client={queries}>
      <SiteContextValue.Provider value={context}>{inside}</SiteContextValue.Provider>
    </QueryClientProvider>
  );
  const shown = render(whole(children));
  return {
    ...shown,
    commits,
    drafts,
    queries,
    document: () => state().document,
    again: (other: ReactNode) => shown.rerender(whole(other)),
  };
}

/** Put the page's own state back and take down what was shown. */
export function clear() {
  cleanup();
  useView.setState(useView.getInitialState());
}
