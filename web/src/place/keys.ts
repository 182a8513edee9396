import * as THREE from "three";
import type { SiteDocument } from "../api/client";
import { boxMatrix, frameOf, lieOf } from "../site/decalBox";
import type { Editor } from "../site/editor";
import { pickedOf, useView } from "../site/store";
import { called, posedOf, removals, takenOut } from "./actions";
import { pivotOf, type Point, type PosedList, shiftOperations, wrapped } from "../site/poses";

/** Metres and degrees of one press; with Shift ten times the way. */
const WAY = 0.05;
const TURN = 5;

const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0, 0],
  ArrowRight: [1, 0, 0],
  ArrowUp: [0, 0, -1],
  ArrowDown: [0, 0, 1],
  PageUp: [0, 1, 0],
  PageDown: [0, -1, 0],
};
const TURNS: Record<string, number> = { ",": TURN, ".": -TURN };

/** Presses that come within so many milliseconds are one step. */
const TOGETHER = 900;

let gesture = "";
let last = -Infinity;

/** The gesture that a press belongs to. */
function gestureAt(event: KeyboardEvent): string {
  // By when they were pressed, not by when a busy page comes to hear of it.
  if (event.timeStamp - last > TOGETHER) gesture = crypto.randomUUID();
  last = event.timeStamp;
  return gesture;
}

/** Move a decal along its own sheet, spin or delete it by a key. */
function nudgeDecal(event: KeyboardEvent, editor: Editor, document: SiteDocument, id?: string) {
  const row = document.decals.findIndex((one) => one.id === id);
  const decal = document.decals[row];
  if (!decal || decal.locked) return;
  if (event.key === "Delete") {
    editor.commit(`Delete ${decal.name}`, [{ op: "remove", path: `/decals/${row}` }]);
    useView.getState().pick(null);
    return;
  }
  const [way, turn] = [WAYS[event.key], TURNS[event.key]];
  if (!way && !turn) return;
  event.preventDefault();
  const frame = frameOf(document.structures, decal.object);
  const matrix = boxMatrix(decal, frame);
  // Up and down are those of its picture; page up and page down lift it off the surface.
  const by = new THREE.Vector3(...(way ?? [0, 0, 0])).multiplyScalar(WAY * (event.shiftKey ? 10 : 1));
  const place = lieOf(matrix.clone().setPosition(by.applyMatrix4(matrix)), frame).placement.position;
  const to = { path: `/decals/${row}/placement/position`, value: place };
  const spun = { path: `/decals/${row}/spin`, value: Number(wrapped(decal.spin + (turn ?? 0)).toFixed(2)) };
  editor.commit(`Move ${decal.name}`, [{ op: "replace", ...(way ? to : spun) }], gestureAt(event));
}

/** Move, turn or delete what is picked by a key; presses one after another are one step to undo. */
export function nudge(event: KeyboardEvent, editor: Editor) {
  const document = editor.state()?.document;
  const view = useView.getState();
  if (document && view.picked?.part === "decals") return nudgeDecal(event, editor, document, view.picked.id);
  const list: PosedList = view.picked?.part === "lamps" ? "lamps" : "structures";
  const ids = pickedOf(list)(view);
  if (!document || !ids.length) return;
  const objects = posedOf(document, list, ids).filter((one) => !one.locked);
  const words = called(list, objects);
  const way = WAYS[event.key];
  const turn = TURNS[event.key];
  if (event.key === "Delete") {
    const gone = objects.map((one) => one.id);
    editor.commit(`Delete ${words}`, list === "lamps" ? takenOut(document, list, gone) : removals(document, gone));
    useView.getState().pick(null);
    return;
  }
  if ((!way && !turn) || !objects.length) return;
  event.preventDefault();
  const by = (way ?? [0, 0, 0]).map((one) => one * WAY * (event.shiftKey ? 10 : 1)) as Point;
  const moved = objects.map((one) => one.id);
  const shift = { by, turn: turn ?? 0 };
  editor.commit(`Move ${words}`, shiftOperations(document, moved, pivotOf(objects), shift, list), gestureAt(event));
}
