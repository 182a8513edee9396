import { nameOf, type Patch } from "./layout";

/** A patch that is there: which layer holds it, and what it was composed of. */
export interface Held {
  patch: Patch;
  layer: number;
  of: string;
}

/** Which patch lies in which layer of the view's arrays: as many as there is room for, the least recently seen goes first. */
export class Rooms {
  private held = new Map<string, Held>();
  private free: number[];

  constructor(readonly count: number) {
    this.free = Array.from({ length: count }, (_, k) => count - 1 - k);
  }

  get size(): number {
    return this.held.size;
  }

  /** Whether a patch of a composition is there; if so it has been seen now. */
  seen(patch: Patch, of: string): boolean {
    const name = nameOf(patch);
    const found = this.held.get(name);
    if (!found || found.of !== of) return false;
    this.held.delete(name);
    this.held.set(name, found);
    return true;
  }

  /** Give a patch a layer; whose patch had to go for it is told, its own earlier one included. */
  take(patch: Patch, of: string): { layer: number; gone: Held | null } {
    const name = nameOf(patch);
    const gone = this.held.get(name) ?? (this.free.length ? null : this.held.values().next().value!);
    if (gone) this.held.delete(nameOf(gone.patch));
    const layer = gone ? gone.layer : this.free.pop()!;
    this.held.set(name, { patch, layer, of });
    return { layer, gone };
  }

  /** The patches of a surface that are there. */
  of(surface: string): Held[] {
    return [...this.held.values()].filter(({ patch }) => patch.surface === surface);
  }

  /** Let go of a surface's patches that are of something else than this composition; tells whether there were any. */
  keepOnly(surface: string, of: string): boolean {
    const gone = this.of(surface).filter((one) => one.of !== of);
    for (const { patch, layer } of gone) {
      this.held.delete(nameOf(patch));
      this.free.push(layer);
    }
    return gone.length > 0;
  }
}
