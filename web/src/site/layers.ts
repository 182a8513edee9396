import type {
  CoverLayer,
  DropletLayer,
  Grass,
  PlacedDecal,
  PlacedLamp,
  Scatter,
  SiteDocument,
  Structure,
  Vocabulary,
} from "../api/client";
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

/** A new scatter on a surface, as the core has it begin. */
export function newScatter(document: SiteDocument, vocabulary: Vocabulary, surface: string): Scatter {
  const starter = vocabulary.starters.scatter as Scatter;
  return {
    ...structuredClone(starter),
    id: freshId("scatter"),
    name: freshName(
      starter.name,
      document.planting.map((layer) => layer.name),
    ),
    surfaces: [surface],
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

/** How high a new lamp hangs over the place that is looked at, metres. */
const HANGS = 2.5;

/** A new lamp of a kind over a place. */
export function newLamp(
  document: SiteDocument,
  vocabulary: Vocabulary,
  kind: string,
  [x, y, z]: [number, number, number],
): PlacedLamp {
  const title = vocabulary.lamps.find((one) => one.kind === kind)!.title;
  const taken = document.lamps.map((one) => one.name);
  return {
    ...(defaultsOfGroup("PlacedLamp") as unknown as PlacedLamp),
    id: freshId("lamp"),
    name: freshName(title, taken),
    lamp: defaultsOf(kind) as unknown as PlacedLamp["lamp"],
    placement: { position: [x, Number((y + HANGS).toFixed(2)), z], turn: 0, tip: 0, roll: 0 },
  };
}

/** A new decal of a kind, not laid anywhere yet. */
export function newDecal(document: SiteDocument, vocabulary: Vocabulary, kind: string): PlacedDecal {
  const { title, lies } = vocabulary.decals.find((one) => one.kind === kind)!;
  const taken = document.decals.map((one) => one.name);
  return {
    ...(defaultsOfGroup("PlacedDecal") as unknown as PlacedDecal),
    id: freshId("decal"),
    name: freshName(title, taken),
    decal: defaultsOf(kind) as unknown as PlacedDecal["decal"],
    lies,
    seed: Math.floor(Math.random() * 9999),
  };
}

/** A new layer of drops on some surfaces, as it begins under a preset or by its kind alone. */
export function newDroplets(document: SiteDocument, begins: Partial<DropletLayer>, surfaces: string[]): DropletLayer {
  return {
    ...(defaultsOfGroup("DropletLayer") as unknown as DropletLayer),
    ...structuredClone(begins),
    id: freshId("drops"),
    name: freshName(
      begins.name ?? "Drops",
      document.droplets.map((layer) => layer.name),
    ),
    surfaces,
    seed: Math.floor(Math.random() * 9999),
  };
}

/** A new layer of grass on some surfaces, as a preset has it begin. */
export function newGrass(document: SiteDocument, begins: Grass, surfaces: string[]): Grass {
  return {
    ...structuredClone(begins),
    id: freshId("grass"),
    name: freshName(
      begins.name,
      document.grass.map((layer) => layer.name),
    ),
    surfaces,
    seed: Math.floor(Math.random() * 9999),
  };
}

/** A new layer of a cover on some surfaces, with the mask that this cover usually has. */
export function newCover(document: SiteDocument, vocabulary: Vocabulary, kind: string, surfaces: string[]): CoverLayer {
  const cover = vocabulary.covers.find((entry) => entry.kind === kind)!;
  return {
    ...(defaultsOfGroup("CoverLayer") as unknown as CoverLayer),
    id: freshId(kind),
    name: freshName(
      cover.title,
      document.weather.map((layer) => layer.name),
    ),
    cover: defaultsOf(kind) as CoverLayer["cover"],
    where: cover.where as CoverLayer["where"],
    surfaces,
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
    ...(defaultsOfGroup("Structure") as unknown as Structure),
    id: freshId("object"),
    name: freshName(
      name,
      document.structures.map((one) => one.name),
    ),
    source,
    placement: { ...(defaultsOfGroup("Placement") as Structure["placement"]), position },
  };
}
