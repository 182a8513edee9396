import { useThree } from "@react-three/fiber";
import { useMemo } from "react";
import * as THREE from "three";
import { useShallow } from "zustand/react/shallow";
import { changes, placedOf, repick } from "../planting/hand";
import { useChange, useDocument, useSiteContext } from "../site/context";
import { itemToolIn } from "../site/inHand";
import { handBusy, pickedOf, useView } from "../site/store";
import { called, posedOf } from "./actions";
import {
  middleOf,
  pivotOf,
  type Point,
  type PosedList,
  poseOf,
  type Shift,
  shifted,
  shiftOperations,
} from "../site/poses";
import { heightBelow } from "../view/reach";

/** What the handles hold. */
export interface Held {
  /** Where the handles stand. */
  pivot: Point;
  /** Surfaces that move along, and so are nothing to come to lie on. */
  surfaces: string[];
  /** Show a shift about a pivot while it is made. */
  show: (start: Point, shift: Shift, others: THREE.Object3D[]) => void;
  /** It is where it was: nothing is made. */
  leave: () => void;
  /** Make it. */
  make: (verb: string, start: Point, shift: Shift, others: THREE.Object3D[]) => void;
}

/** Picked objects, or lamps; null where none can be moved. */
function useHeldPosed(list: PosedList): Held | null {
  const { editor } = useSiteContext();
  const { scene } = useThree();
  const document = useDocument();
  const ids = useView(useShallow(pickedOf(list)));
  const busy = useView((state) => handBusy(state) || state.showing === "mask");
  return useMemo(() => {
    const objects = posedOf(document, list, ids).filter((one) => one.shown && !one.locked);
    if (!objects.length || busy) return null;
    const moving = objects.map((one) => one.id);
    return {
      pivot: pivotOf(objects),
      surfaces: list === "structures" ? moving : [],
      show: (start, shift) => {
        for (const one of objects) {
          const mesh = scene.getObjectByName(one.id);
          if (!mesh) continue;
          mesh.matrix.copy(poseOf(shifted(one.placement, start, shift)));
          mesh.matrixWorldNeedsUpdate = true;
        }
      },
      leave: () => undefined,
      make: (verb, start, shift) => {
        const name = called(list, objects);
        editor.commit(`${verb} ${name}`, shiftOperations(editor.state()!.document, moving, start, shift, list));
      },
    };
  }, [document, list, ids, busy, scene, editor]);
}

/** Up to so many items each stand on what is under them while they are slid; more keep their heights. */
const FOLLOW = 150;

/** Picked items of a scatter; null where none are picked. */
function useHeldItems(): Held | null {
  const { stage } = useSiteContext();
  const change = useChange();
  const document = useDocument();
  const picked = useView((state) => state.picked);
  const placed = useView((state) => state.placed);
  const stamp = useView((state) => state.tableTicket);
  const busy = useView((state) => handBusy(state) && !["pick", "loop"].includes(itemToolIn(state)?.tool ?? ""));
  return useMemo(() => {
    const index = picked?.part === "planting" ? document.planting.findIndex((one) => one.id === picked.id) : -1;
    const table = index >= 0 ? stage.placed.get(document.planting[index].id) : undefined;
    if (busy || !table || !placed.length) return null;
    // A row goes by its line; its items are not moved one by one.
    const items = placedOf(table, placed).filter((one) => one.origin !== 1);
    if (!items.length) return null;
    const layer = document.planting[index];
    const operations = (start: Point, shift: Shift, others: THREE.Object3D[]) => {
      const follows = shift.by[0] !== 0 || shift.by[2] !== 0 ? items.length <= FOLLOW : false;
      const to: Point[] = [];
      const made = changes(layer, `/planting/${index}`, items, (one) => {
        const next = shifted(one, start, shift);
        const position = next.position as Point;
        if (follows) {
          const [was, is] = [one.position as Point, position].map((at) => heightBelow(others, at, at[1] + 3));
          if (was !== null && is !== null) position[1] = Number((is + one.position[1] - was).toFixed(3));
        }
        to.push(position);
        return { position, turn: next.turn };
      });
      return { made, to };
    };
    const label = (verb: string) => `${layer.name}: ${verb} ${items.length > 1 ? `${items.length} items` : "one item"}`;
    return {
      pivot: middleOf(items.map((one) => one.position)),
      surfaces: [],
      show: (start, shift, others) => {
        const { made, to } = operations(start, shift, others);
        repick(layer.id, to);
        change.live(label("move"), made);
      },
      leave: change.settle,
      make: (verb, start, shift, others) => {
        const { made, to } = operations(start, shift, others);
        repick(layer.id, to);
        change.live(label(verb.toLowerCase()), made);
        change.settle();
      },
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the table is looked up anew when it has changed
  }, [document, picked, placed, stamp, busy, change]);
}

/** What is picked and can be moved. */
export function useHeld(): Held | null {
  const items = useHeldItems();
  const objects = useHeldPosed("structures");
  const lamps = useHeldPosed("lamps");
  return objects ?? lamps ?? items;
}
