import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import * as THREE from "three";
import { spreadAt } from "../api/queries";
import { useSiteContext } from "../site/context";
import { holding } from "../site/inHand";
import { useView } from "../site/store";
import { gripping } from "../view/grips";
import { hitUnder, pointerAt, surfacesOf } from "../view/reach";
import { takenOutOf } from "../site/decalBox";

/** Takes one of those that a rule lays out of it, where one presses on it in the view. */
export function Unspread() {
  const { siteId, editor } = useSiteContext();
  const { gl, camera, scene } = useThree();
  const held = useView((state) => holding(state, "unspread"));

  useEffect(() => {
    if (!held) return;
    let down: [number, number] | null = null;
    const tell = (text: string, tone: "info" | "error" = "info") => useView.getState().set({ notice: { text, tone } });
    const take = async (point: THREE.Vector3, surface: string) => {
      try {
        await editor.idle();
        const found = await spreadAt(siteId, held.decal, surface, point.toArray());
        const { document } = editor.state()!;
        const row = document.decals.findIndex((one) => one.id === held.decal);
        if (!found || row < 0) return tell("None of them lies there. Press on one of them.");
        const { operations, own } = takenOutOf(document, row, found, held.keep);
        editor.commit(`${document.decals[row].name}: take one out`, operations);
        if (!own) return;
        useView.getState().take(null);
        useView.getState().present({ part: "decals", id: own });
      } catch (error) {
        tell((error as Error).message, "error");
      }
    };
    const press = (event: PointerEvent) => {
      if (event.button === 0 && event.target === gl.domElement) down = [event.clientX, event.clientY];
      // A drag moves the camera, as it always does.
      return false;
    };
    const release = (event: PointerEvent) => {
      const still = down && Math.hypot(event.clientX - down[0], event.clientY - down[1]) < 4;
      down = null;
      const hit = still && hitUnder(pointerAt(event, gl.domElement), camera, surfacesOf(scene, new Set()));
      if (hit) void take(hit.point, hit.surface);
      return false;
    };
    const cancel = () => ((down = null), false);
    return gripping(gl.domElement.parentElement!, { press, release, cancel });
  }, [held, gl, camera, scene, siteId, editor]);

  return null;
}
