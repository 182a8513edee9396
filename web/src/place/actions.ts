import type * as THREE from "three";
import type { Operation, SiteDocument, Structure } from "../api/client";
import { freshId, freshName } from "../site/layers";
import { composed, type Point, type Posed, type PosedList } from "../site/poses";
import { heightBelow, surfacesOf } from "../view/reach";

const rowOf = (document: SiteDocument, id: string) => document.structures.findIndex((one) => one.id === id);

/** The lists of layers that lie on objects, each naming these. */
const LYING = ["weather", "droplets", "grass"] as const;

/** The objects of these ids that are there, in the document's order. */
export function objectsOf(document: SiteDocument, ids: string[]): Structure[] {
  return document.structures.filter((one) => ids.includes(one.id));
}

/** The layers of these ids of a list, in the document's order. */
export function posedOf(document: SiteDocument, list: PosedList, ids: string[]): Posed[] {
  return (document[list] as Posed[]).filter((one) => ids.includes(one.id));
}

/** What several objects or lamps are called together, or one by its name. */
export function called(list: PosedList, posed: Posed[]): string {
  return posed.length === 1 ? posed[0].name : `${posed.length} ${list === "lamps" ? "lamps" : "objects"}`;
}

/** Take layers out that nothing refers to. */
export function takenOut(document: SiteDocument, list: PosedList, ids: string[]): Operation[] {
  const rows = ids.map((id) => document[list].findIndex((one) => one.id === id)).sort((a, b) => b - a);
  return rows.map((row) => ({ op: "remove", path: `/${list}/${row}` }));
}

/** Set a field of several objects. */
export function setAll(document: SiteDocument, ids: string[], field: keyof Structure, value: unknown): Operation[] {
  return ids.map((id) => ({ op: "replace", path: `/structures/${rowOf(document, id)}/${field}`, value }));
}

/** Copies of objects beside them, which share the recipes of weathering that the originals share. */
export function duplicates(document: SiteDocument, ids: string[]): { operations: Operation[]; ids: string[] } {
  const taken = document.structures.map((one) => one.name);
  const copies = objectsOf(document, ids).map((one) => {
    const name = freshName(one.name.replace(/ \d+$/, ""), taken);
    taken.push(name);
    const [x, y, z] = one.placement.position as Point;
    const position: Point = [x + 0.8, y, z + 0.8];
    return { of: one.id, made: { ...one, id: freshId("object"), name, placement: { ...one.placement, position } } };
  });
  const operations: Operation[] = copies.map(({ made }) => ({ op: "add", path: "/structures/-", value: made }));
  for (const list of LYING)
    document[list].forEach((layer, row) => {
      const more = copies.filter(({ of }) => layer.surfaces.includes(of)).map(({ made }) => made.id);
      if (more.length)
        operations.push({ op: "replace", path: `/${list}/${row}/surfaces`, value: [...layer.surfaces, ...more] });
    });
  return { operations, ids: copies.map(({ made }) => made.id) };
}

/** Take several objects out, and out of what refers to them. */
export function removals(document: SiteDocument, ids: string[]): Operation[] {
  const gone = new Set(ids);
  const operations = takenOut(document, "structures", ids);
  for (const list of LYING)
    document[list].forEach((layer, row) => {
      const left = layer.surfaces.filter((id) => !gone.has(id));
      if (left.length < layer.surfaces.length)
        operations.push({ op: "replace", path: `/${list}/${row}/surfaces`, value: left });
    });
  return operations;
}

/** A name for a group that no group has yet. */
export function freshGroup(document: SiteDocument): string {
  return freshName("Group", [...new Set(document.structures.map((one) => one.group))]);
}

/** Put each object down on what lies under it; those over nothing stay. */
export function setDown(scene: THREE.Scene, document: SiteDocument, ids: string[]): Operation[] {
  const below = surfacesOf(scene, new Set(ids));
  return objectsOf(document, ids).flatMap((one) => {
    const place = one.placement.position as Point;
    const height = heightBelow(below, place, place[1] + 0.5) ?? heightBelow(below, place, 1e4);
    if (height === null) return [];
    const path = `/structures/${rowOf(document, one.id)}/placement/position`;
    return [{ op: "replace" as const, path, value: [place[0], Number(height.toFixed(3)), place[2]] }];
  });
}

/** A level place in the ground under an object, with a band that blends it in: `seat` tells its extent. */
export function seatOperation(one: Structure, { low, high }: { low: number[]; high: number[] }): Operation {
  const { position, turn } = one.placement;
  const [x, y, z] = position as Point;
  const angle = (turn * Math.PI) / 180;
  const [mx, mz] = [(low[0] + high[0]) / 2, (low[2] + high[2]) / 2];
  const tidy = (value: number) => Number(value.toFixed(3));
  const value = {
    centre: [
      tidy(x + mx * Math.cos(angle) + mz * Math.sin(angle)),
      tidy(z - mx * Math.sin(angle) + mz * Math.cos(angle)),
    ],
    size: [tidy(high[0] - low[0] + 0.1), tidy(high[2] - low[2] + 0.1)],
    turn,
    level: tidy(y),
    edge: tidy(Math.min(4, Math.max(0.4, 0.25 * Math.hypot(high[0] - low[0], high[2] - low[2])))),
  };
  return { op: "add", path: "/ground/levelled/-", value };
}

/** The pieces of a heap as objects of their own, in a group. At most as many as one edit may hold. */
export function freedPieces(document: SiteDocument, heap: Structure): Operation[] {
  if (heap.source.kind !== "heap") return [];
  const taken = document.structures.map((one) => one.name);
  const row = rowOf(document, heap.id);
  const group = heap.name;
  const made = heap.source.pieces.map((piece) => {
    const name = freshName(
      piece.item.replaceAll("_", " ").replace(/^./, (letter) => letter.toUpperCase()),
      taken,
    );
    taken.push(name);
    const source = { kind: "kit_piece" as const, item: piece.item, variant: piece.variant };
    return { ...heap, id: freshId("object"), name, group, source, placement: composed(heap.placement, piece) };
  });
  const operations: Operation[] = [{ op: "remove", path: `/structures/${row}` }];
  operations.push(...made.map((value) => ({ op: "add" as const, path: "/structures/-", value })));
  const ids = made.map((one) => one.id);
  document.weather.forEach((layer, at) => {
    if (layer.surfaces.includes(heap.id))
      operations.push({
        op: "replace",
        path: `/weather/${at}/surfaces`,
        value: [...layer.surfaces.filter((id) => id !== heap.id), ...ids],
      });
  });
  return operations;
}
