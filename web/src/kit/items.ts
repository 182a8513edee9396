import type { Schemas, SiteDocument, Vocabulary } from "../api/client";
import { defaultsOf } from "../api/declared";

export type OwnItem = Schemas["OwnItem"];
export type KitEntry = Vocabulary["kit"][number];

/** An item as the browser shows it. */
export interface Item {
  kind: string;
  /** What it is called: by the name that a user gave it, or by the title of its kind. */
  title: string;
  group: string;
  help: string;
  tags: string[];
  variants: number;
  /** At each level of detail; none where it is not known before it is built. */
  triangles: number[];
  size: number[];
  own: boolean;
  grows: boolean;
  adjustable: boolean;
}

export const GROUPS: Record<string, string> = {
  own: "This site's own",
  grasses: "Grasses",
  herbs: "Herbs",
  climbers: "Climbers",
  trees: "Trees and bushes",
  litter: "Litter",
  stones: "Stones",
  timber: "Timber",
  yard: "Yard",
};

/** All items that a site can place, its own first. */
export function itemsOf(document: SiteDocument, vocabulary: Vocabulary): Item[] {
  const own = document.kit.map((one): Item => {
    const base = vocabulary.kit.find((entry) => entry.kind === one.source.kind);
    return {
      kind: one.id,
      title: one.name,
      group: "own",
      help: base ? `Made from ${base.title.toLowerCase()}.` : "From a file.",
      tags: base?.tags ?? ["file"],
      variants: base?.variants ?? 1,
      triangles: [],
      size: [],
      own: true,
      grows: base?.grows ?? false,
      adjustable: true,
    };
  });
  return [...own, ...vocabulary.kit.map((entry) => ({ ...entry, own: false }))];
}

/** What is found by words and by group; every word must be somewhere. */
export function found(items: Item[], search: string, group: string): Item[] {
  const words = search.trim().toLowerCase().split(/\s+/).filter(Boolean);
  return items.filter((item) => {
    if (group && item.group !== group) return false;
    const text = `${item.title} ${GROUPS[item.group]} ${item.tags.join(" ")}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/** An own item made from a shipped one. */
export function ownItem(item: Item, document: SiteDocument): OwnItem {
  const taken = new Set(document.kit.map((one) => one.name));
  let name = `${item.title}, own`;
  for (let number = 2; taken.has(name); number++) name = `${item.title}, own ${number}`;
  const source = defaultsOf(item.kind) as unknown as OwnItem["source"];
  return { id: `own-${Date.now().toString(36)}`, name, source, stiffness: 1 };
}

/** Who places an item: names of scatters and structures. */
export function placedBy(kind: string, document: SiteDocument): string[] {
  return [
    ...document.planting.filter((layer) => layer.mix.some((entry) => entry.item === kind)).map((layer) => layer.name),
    ...document.structures
      .filter((one) => one.source.kind === "kit_piece" && one.source.item === kind)
      .map((one) => one.name),
  ];
}
