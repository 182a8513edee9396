import type { Editor } from "../site/editor";
import { pickedObjects, useView } from "../site/store";
import { objectsOf, removals } from "./actions";
import { pivotOf, type Point, shiftOperations } from "../site/poses";

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

let gesture = "";
let timer: number | undefined;

/** Move, turn or delete what is picked by a key; presses one after another are one step to undo. */
export function nudge(event: KeyboardEvent, editor: Editor) {
  const document = editor.state()?.document;
  const ids = pickedObjects(useView.getState());
  if (!document || !ids.length) return;
  const objects = objectsOf(document, ids).filter((one) => !one.locked);
  const words = objects.length === 1 ? objects[0].name : `${objects.length} objects`;
  const way = WAYS[event.key];
  const turn = TURNS[event.key];
  if (event.key === "Delete") {
    editor.commit(
      `Delete ${words}`,
      removals(
        document,
        objects.map((one) => one.id),
      ),
    );
    useView.getState().pick(null);
    return;
  }
  if ((!way && !turn) || !objects.length) return;
  event.preventDefault();
  window.clearTimeout(timer);
  timer = window.setTimeout(() => (gesture = ""), 900);
  gesture ||= crypto.randomUUID();
  const by = (way ?? [0, 0, 0]).map((one) => one * WAY * (event.shiftKey ? 10 : 1)) as Point;
  const moved = objects.map((one) => one.id);
  editor.commit(`Move ${words}`, shiftOperations(document, moved, pivotOf(objects), { by, turn: turn ?? 0 }), gesture);
}
