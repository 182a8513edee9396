import type { Frame, PassModule } from "./pass";

const found = import.meta.glob<{ pass: PassModule }>("./*.pass.ts", { eager: true });

/** What a frame is made of, in order: each is a file of this folder that ends in `.pass.ts`. */
export const PASSES: PassModule[] = Object.values(found)
  .map(({ pass }) => pass)
  .sort((one, other) => one.order - other.order);

/** The passes of a view, one after another. */
export function passesOfView(): (frame: Frame) => void {
  const made = PASSES.map(({ make }) => make());
  return (frame) => made.forEach((pass) => pass(frame));
}
