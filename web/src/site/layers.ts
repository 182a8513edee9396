import type { CoverLayer, Scatter, SiteDocument, Structure, Vocabulary } from "../api/client";
import { defaultsOf, defaultsOfGroup } from "../api/declared";

/** The document's lists of what has an id and a name. */
export type LayerList = {
  [Key in keyof SiteDocument]-?: SiteDocument[Key] extends { id: string; name: string }[] ? Key : never;
}[keyof SiteDocument];

/** What every layer of a list has, and what only structures have. */
export interface Layer {
  id: string;
  name: string;
  shown?: boolean;
  locked?: boolean;
  group?: string;
}

/** Layers by group, each group where its first member stands; a layer without a group is on its own. */
export function grouped<Member extends Layer>(layers: Member[]): { group: string; members: Member[] }[] {
  const out: { group: string; members: Member[] }[] = [];
  for (const layer of layers) {
    const there = layer.group ? out.find((one) => one.group === layer.group) : undefined;
    if (there) there.members.push(layer);
    else out.push({ group: layer.group ?? "", members: [layer] });
  }
  return out;
}

/** A name that no layer has yet: “Moss”, “Moss 2”, … */
export function freshName(wanted: string, taken: string[]): string {
  if (!taken.includes(wanted)) return wanted;
  let number = 2;
  while (taken.includes(`${wanted} ${number}`)) number += 1;
  return `${wanted} ${number}`;
}

/** An id that no layer has yet. */
export const freshId = (stem: string) => `${stem}-${Math.random().toString(36).slice(2, 9)}`;

/** A new scatter on a surface: three kinds of things, kept off steep places and structures, broken up by noise. */
export function newScatter(document: SiteDocument, vocabulary: Vocabulary, surface: string): Scatter {
  const reading = (kind: string) => vocabulary.signals.find((signal) => signal.kind === kind)!;
  const card = (kind: string, starts_at: number, full_at: number) => ({
    id: kind,
    signal: defaultsOf(reading(kind).kind) as Scatter["where"]["cards"][number]["signal"],
    starts_at,
    full_at,
    soft: true,
    inverted: false,
    combine: "multiply" as const,
    enabled: true,
  });
  const item = (kind: string, share: number) => ({ ...(mixDefaults() as Scatter["mix"][number]), item: kind, share });
  return {
    ...(defaultsOfGroup("Scatter") as unknown as Scatter),
    id: freshId("scatter"),
    name: freshName(
      "Mixed growth",
      document.planting.map((layer) => layer.name),
    ),
    surfaces: [surface],
    density: 3,
    mix: [item("grass_tuft", 8), item("fern", 1), item("stone", 0.6)],
    where: { shared: "", cards: [card("slope", 40, 22), card("distance", 0.1, 0.8), card("noise", 0.35, 0.6)] },
  };
}

/** An item of a mix as it begins. */
export function mixDefaults(): Record<string, unknown> {
  return { ...defaultsOfGroup("MixItem"), item: "grass_tuft" };
}

/** A new zone about a place. */
export function newZone(document: SiteDocument, [x, , z]: [number, number, number]): SiteDocument["zones"][number] {
  return {
    ...(defaultsOfGroup("Zone") as unknown as SiteDocument["zones"][number]),
    id: freshId("zone"),
    name: freshName(
      "Zone",
      document.zones.map((zone) => zone.name),
    ),
    centre: [Number(x.toFixed(2)), Number(z.toFixed(2))],
  };
}

/** A new layer of a cover on some surfaces, with the mask that this cover usually has. */
export function newCover(document: SiteDocument, vocabulary: Vocabulary, kind: string, surfaces: string[]): CoverLayer {
  const cover = vocabulary.covers.find((entry) => entry.kind === kind)!;
  return {
    id: freshId(kind),
    name: freshName(
      cover.title,
      document.weather.map((layer) => layer.name),
    ),
    shown: true,
    cover: defaultsOf(kind) as CoverLayer["cover"],
    where: cover.where as CoverLayer["where"],
    surfaces,
    on_items: true,
    strengths: {},
  };
}

/** A new structure of our own making, set down at a place. */
export function newStructure(
  document: SiteDocument,
  vocabulary: Vocabulary,
  kind: string,
  position: [number, number, number],
): Structure {
  const maker = vocabulary.makers.find((entry) => entry.kind === kind)!;
  return freshStructure(document, maker.title, { kind: "made", maker: defaultsOf(kind) as never }, position);
}

/** A new object of any source, under a name that no other has. */
export function freshStructure(
  document: SiteDocument,
  name: string,
  source: Structure["source"],
  position: [number, number, number],
): Structure {
  return {
    id: freshId("object"),
    name: freshName(
      name,
      document.structures.map((one) => one.name),
    ),
    shown: true,
    locked: false,
    group: "",
    source,
    placement: { position, turn: 0, tip: 0, roll: 0, size: 1 },
    repeat: { number: 1, step: [2, 0, 0], turn: 0, path: [], mirror: "none" },
    materials: {},
    grades: {},
  };
}
