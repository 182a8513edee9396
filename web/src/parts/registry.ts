import type { Part } from "../site/store";
import type { Affects } from "../view/preview";
import type { PartModule } from "./part";

const found = import.meta.glob<{ part: PartModule }>("./*.part.tsx", { eager: true });

/** The parts of a site from the ground upward: each is a file of this folder that ends in `.part.tsx`. */
export const PARTS: PartModule[] = Object.values(found)
  .map(({ part }) => part)
  .sort((one, other) => one.order - other.order);

/** What a change touches, by key of the document: each part tells it of what is its own. */
export const AFFECTS = Object.assign({}, ...PARTS.map(({ affects }) => affects)) as Record<string, Affects>;

/** The part of a key. */
export const partOf = (part: Part): PartModule | undefined => PARTS.find((one) => one.part === part);
