import * as THREE from "three";
import type { Operation, Scatter } from "../api/client";
import { freshId } from "../site/layers";
import { defaultsOfGroup } from "../api/declared";
import type { Point } from "../site/poses";
import type { Placements } from "../site/placements";

export type Planted = Scatter["planted"][number];

/** One placed item, as a table of placements has it. */
export interface Placed {
  id: string;
  item: string;
  variant: number;
  position: Point;
  rotation: [number, number, number, number];
  size: number;
  /** 0 by rule, 1 in a row, 2 by hand. */
  origin: number;
}

/** The id of a row as documents write it: sixteen hexadecimal digits. */
export function idOf(placements: Placements, row: number): string {
  const half = (value: number) => value.toString(16).padStart(8, "0");
  return half(placements.id[2 * row + 1]) + half(placements.id[2 * row]);
}

/** Some rows of a table, by the ids of their items. */
export function placedOf(placements: Placements, ids: readonly string[]): Placed[] {
  const wanted = new Set(ids);
  const out: Placed[] = [];
  for (let row = 0; row < placements.item.length && out.length < wanted.size; row++) {
    const id = idOf(placements, row);
    if (!wanted.has(id)) continue;
    const four = (from: Float32Array, width: number) => [...from.subarray(row * width, (row + 1) * width)];
    out.push({
      id,
      item: placements.meta.items[placements.item[row]],
      variant: placements.variant[row],
      position: four(placements.position, 3) as Point,
      rotation: four(placements.rotation, 4) as Placed["rotation"],
      size: placements.size[row],
      origin: placements.origin[row],
    });
  }
  return out;
}

const tidy = (value: number, digits = 3) => Number(value.toFixed(digits)) + 0;

/** Turn, tip and roll in degrees of a unit quaternion, as the core turns things: rolled, tipped, then turned. */
export function anglesOf(rotation: Placed["rotation"]): { turn: number; tip: number; roll: number } {
  const euler = new THREE.Euler().setFromQuaternion(new THREE.Quaternion(...rotation), "YXZ");
  const [turn, tip, roll] = [euler.y, euler.x, euler.z].map((angle) => tidy(THREE.MathUtils.radToDeg(angle), 2));
  return { turn, tip, roll };
}

/** Which entry of the layer's planted ones a picked item is; -1 where it was placed by rule or in a row. */
function plantedRow(layer: Scatter, placed: Placed): number {
  if (placed.origin !== 2) return -1;
  // Hand-planted ones come last in a table, in the order of the document; positions tell them apart.
  return layer.planted.findIndex(
    (one) =>
      one.item === placed.item && one.position.every((value, axis) => Math.abs(value - placed.position[axis]) < 2e-3),
  );
}

/** The operations that take items away for good, whatever rules say later. Rows of a line are taken with their line. */
export function removals(layer: Scatter, path: string, items: readonly Placed[]): Operation[] {
  const byRule = items.filter((one) => one.origin === 0).map((one) => one.id);
  const rows = items.map((one) => plantedRow(layer, one)).filter((row) => row >= 0);
  const gone = new Set(rows);
  const operations: Operation[] = [];
  // What stood in place of an item by rule takes that one with it.
  const instead = rows.map((row) => layer.planted[row].instead).filter(Boolean);
  const removed = [...new Set([...layer.removed, ...byRule, ...instead])];
  if (removed.length !== layer.removed.length)
    operations.push({ op: "replace", path: `${path}/removed`, value: removed });
  if (gone.size)
    operations.push({
      op: "replace",
      path: `${path}/planted`,
      value: layer.planted.filter((_, row) => !gone.has(row)),
    });
  return operations;
}

/** The operations that change items: those placed by rule are from then on kept as they were left. */
export function changes(
  layer: Scatter,
  path: string,
  items: readonly Placed[],
  change: (one: Planted) => Partial<Planted>,
): Operation[] {
  const planted = [...layer.planted];
  for (const item of items) {
    const row = plantedRow(layer, item);
    if (row >= 0) planted[row] = { ...planted[row], ...change(planted[row]) };
    else if (item.origin === 0) {
      const kept: Planted = {
        ...(defaultsOfGroup("Planted") as unknown as Planted),
        id: freshId("kept"),
        instead: item.id,
        item: item.item,
        variant: item.variant,
        position: item.position.map((value) => tidy(value)) as Point,
        ...anglesOf(item.rotation),
        size: tidy(item.size),
      };
      planted.push({ ...kept, ...change(kept) });
    }
  }
  return [{ op: "replace", path: `${path}/planted`, value: planted }];
}

let awaited: { layer: string; places: Point[] } | null = null;

/** Pick what stands at some places once it is there: what was changed by hand has another id from then on. */
export function repick(layer: string, places: Point[]) {
  awaited = { layer, places };
}

/** The ids of what is to be picked in a table that has come; null where nothing is, or not all of it is there yet. */
export function picksIn(layer: string, placements: Placements): string[] | null {
  if (awaited?.layer !== layer) return null;
  const name = (at: ArrayLike<number>, from = 0) =>
    [0, 1, 2].map((axis) => Math.round(at[from + axis] * 1000)).join(" ");
  const wanted = new Set(awaited.places.map((place) => name(place)));
  const found: string[] = [];
  for (let row = 0; row < placements.item.length; row++)
    if (placements.origin[row] === 2 && wanted.has(name(placements.position, row * 3)))
      found.push(idOf(placements, row));
  if (found.length < wanted.size) return null;
  awaited = null;
  return found;
}

/** The operation that plants one more: the kinds of the mix in turn. */
export function plantOne(layer: Scatter, path: string, at: Point): Operation[] {
  const kinds = layer.mix.filter((entry) => entry.share > 0);
  const entry = (kinds.length ? kinds : layer.mix)[layer.planted.length % (kinds.length || layer.mix.length)];
  const share = Math.random();
  const value: Planted = {
    ...(defaultsOfGroup("Planted") as unknown as Planted),
    id: freshId("planted"),
    item: entry.item,
    variant: Math.floor(Math.random() * 12),
    position: at.map((one) => tidy(one)) as Point,
    turn: tidy((Math.random() - 0.5) * entry.turn, 1),
    size: tidy(entry.size[0] + (entry.size[1] - entry.size[0]) * share),
  };
  return [{ op: "add", path: `${path}/planted/-`, value }];
}

/** Whether a point of the page lies inside an outline. */
export function inLoop([x, y]: readonly [number, number], loop: readonly (readonly [number, number])[]): boolean {
  let inside = false;
  for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) {
    const [ax, ay] = loop[i];
    const [bx, by] = loop[j];
    if (ay > y !== by > y && x < ax + ((y - ay) * (bx - ax)) / (by - ay)) inside = !inside;
  }
  return inside;
}
