import type { Editor } from "../site/editor";
import { pickedOf, useView } from "../site/store";
import { called, posedOf, removals, takenOut } from "./actions";
import { pivotOf, type Point, type PosedList, shiftOperations } from "../site/poses";

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

/** Move, turn or delete what is picked by a key; presses one after another are one step to undo. */
export function nudge(event: KeyboardEvent, editor: Editor) {
  const document = editor.state()?.document;
  const view = useView.getState();
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
  // By when they were pressed, not by when a busy page comes to hear of it.
  if (event.timeStamp - last > TOGETHER) gesture = crypto.randomUUID();
  last = event.timeStamp;
  const by = (way ?? [0, 0, 0]).map((one) => one * WAY * (event.shiftKey ? 10 : 1)) as Point;
  const moved = objects.map((one) => one.id);
  const shift = { by, turn: turn ?? 0 };
  editor.commit(`Move ${words}`, shiftOperations(document, moved, pivotOf(objects), shift, list), gesture);
}
