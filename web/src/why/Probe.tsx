import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import * as THREE from "three";
import { client, inWords, unwrap, type WhyAnswer } from "../api/client";
import type { Placements } from "../site/placements";
import { idOf } from "../planting/hand";
import { pointerAt, surfacesOf } from "../view/reach";
import { useSiteContext } from "../site/context";
import { probingIn } from "../site/inHand";
import { useView } from "../site/store";
import { gripping } from "../view/grips";

const caster = new THREE.Raycaster();
/** Milliseconds that the pointer rests before it asks. */
const REST = 160;
/** Metres from the point within which the nearest placed item is asked about as well. */
const NEAR = 0.35;

/** Asks why: while `?` is held or the probe is in hand, the point under the resting pointer is asked about. */
export function Probe() {
  const { siteId, editor, stage } = useSiteContext();
  const { gl, camera, scene } = useThree();
  const probing = useView(probingIn);

  useEffect(() => {
    const { set } = useView.getState();
    if (!probing) {
      set({ asked: null });
      return;
    }
    let timer = 0;
    let last = { x: NaN, y: NaN };
    let alive = true;
    const ask = async (x: number, y: number) => {
      caster.setFromCamera(pointerAt({ clientX: x, clientY: y }, gl.domElement), camera);
      const hit = caster.intersectObjects(surfacesOf(scene, new Set()), false)[0];
      if (!hit) return;
      const picked = useView.getState().picked;
      const layer = picked?.part === "planting" || picked?.part === "weather" ? picked.id : undefined;
      const position = hit.point.toArray().map((one) => Number(one.toFixed(4))) as [number, number, number];
      try {
        await editor.idle();
        const answer = await unwrap<WhyAnswer>(
          client.POST("/api/sites/{site_id}/why", {
            params: { path: { site_id: siteId } },
            body: {
              surface: hit.object.userData.surface as string,
              position,
              layers: layer ? [layer] : [],
              placed: picked?.part === "planting" && layer ? nearest(stage.placed.get(layer), position) : null,
              operations: [],
            },
          }),
        );
        if (alive) set({ asked: { x, y, answer, problem: "" } });
        if (alive && answer.measuring) timer = window.setTimeout(() => void ask(x, y), 1500);
      } catch (error) {
        if (alive) set({ asked: { x, y, answer: null, problem: inWords(error) } });
      }
    };
    const move = (event: PointerEvent) => {
      if (Math.hypot(event.clientX - last.x, event.clientY - last.y) < 3) return false;
      last = { x: event.clientX, y: event.clientY };
      window.clearTimeout(timer);
      timer = window.setTimeout(() => void ask(last.x, last.y), REST);
      return false;
    };
    const letGo = gripping(gl.domElement.parentElement!, { move });
    return () => {
      alive = false;
      window.clearTimeout(timer);
      letGo();
    };
  }, [probing, gl, camera, scene, siteId, editor, stage]);
  return null;
}

/** The id of the layer's item nearest to a point; null where none is near. */
function nearest(placements: Placements | undefined, [x, y, z]: [number, number, number]): string | null {
  let best = -1;
  let least = NEAR * NEAR;
  for (let row = 0; row < (placements?.item.length ?? 0); row++) {
    const [dx, dy, dz] = [0, 1, 2].map((axis) => placements!.position[row * 3 + axis] - [x, y, z][axis]);
    const away = dx * dx + dy * dy + dz * dz;
    if (away < least) [best, least] = [row, away];
  }
  return best < 0 ? null : idOf(placements!, best);
}
