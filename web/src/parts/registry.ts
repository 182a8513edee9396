import type { Part } from "../site/store";
import type { Affected, Affects } from "../view/preview";
import type { PartModule } from "./part";

const found = import.meta.glob<{ part: PartModule }>("./*.part.tsx", { eager: true });

/** The parts of a site from the ground upward: each is a file of this folder that ends in `.part.tsx`. */
export const PARTS: PartModule[] = Object.values(found)
  .map(({ part }) => part)
  .sort((one, other) => one.order - other.order);

/** Those that the keys 1 to 9 and 0 pick, in their order. */
export const KEYED: PartModule[] = PARTS.filter(({ order }) => Number.isInteger(order));

/** The key that picks a part; none where there are more parts than keys. */
export function digitOf(part: PartModule): string | undefined {
  const row = KEYED.indexOf(part);
  return row < 0 ? undefined : String((row + 1) % 10);
}

const both = (one: Affected, other: Affected): Affected => ({
  surfaces: [...(one.surfaces ?? []), ...(other.surfaces ?? [])],
  scatters: [...(one.scatters ?? []), ...(other.scatters ?? [])],
  blankets: one.blankets || other.blankets,
  alive: one.alive || other.alive,
});

/** What a change touches, by key of the document: each part tells what it touches of its own. */
export const AFFECTS: Record<string, Affects> = {};
for (const [key, tells] of PARTS.flatMap(({ affects }) => Object.entries(affects ?? {}))) {
  const before = AFFECTS[key];
  AFFECTS[key] = before ? (...asked) => both(before(...asked), tells(...asked)) : tells;
}

/** The part of a key. */
export const partOf = (part: Part): PartModule | undefined => PARTS.find((one) => one.part === part);
