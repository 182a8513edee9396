import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { useVocabulary } from "../api/queries";
import { useSiteContext } from "../site/context";
import { holding } from "../site/inHand";
import { newDecal } from "../site/layers";
import { useView } from "../site/store";
import { gripping } from "../view/grips";
import { hitUnder, pointerAt, surfacesOf } from "../view/reach";
import { cornerAt, frameOf, lieOf, onPlane, onSurface } from "../site/decalBox";
import { outline, outlined } from "./outline";

/** Pixels that a press may stray before it counts as a drag. */
const STRAY = 5;

/** Lays a new decal where one presses on a surface; a drag from there sizes it. */
export function Lay() {
  const { editor } = useSiteContext();
  const { gl, camera, scene, invalidate } = useThree();
  const held = useView((state) => holding(state, "decal"));
  const vocabulary = useVocabulary().data;
  const box = useMemo(outline, []);

  useEffect(() => {
    if (!held || !vocabulary) return;
    const kind = vocabulary.decals.find((one) => one.kind === held.kind);
    if (!kind) return;
    const caster = new THREE.Raycaster();
    let [width, height] = kind.size;
    let laid: { matrix: THREE.Matrix4; surface: string; x: number; y: number } | null = null;
    const show = (matrix: THREE.Matrix4 | null) => {
      box.visible = matrix !== null;
      if (matrix) outlined(box, matrix, new THREE.Vector3(width, kind.reach, height));
      invalidate();
    };
    const meet = (event: PointerEvent) => {
      const hit = hitUnder(pointerAt(event, gl.domElement), camera, surfacesOf(scene, new Set()));
      if (!hit) return null;
      return {
        matrix: onSurface(hit.point, hit.normal, camera.getWorldDirection(new THREE.Vector3())),
        surface: hit.surface,
      };
    };
    const press = (event: PointerEvent) => {
      if (event.button !== 0 || event.target !== gl.domElement) return false;
      const at = meet(event);
      if (!at) return false;
      laid = { ...at, x: event.clientX, y: event.clientY };
      return true;
    };
    const move = (event: PointerEvent) => {
      if (!laid) {
        show(meet(event)?.matrix ?? null);
        return false;
      }
      if (Math.hypot(event.clientX - laid.x, event.clientY - laid.y) < STRAY) return true;
      caster.setFromCamera(pointerAt(event, gl.domElement), camera);
      const at = onPlane(caster.ray, laid.matrix);
      if (at) ({ width, height } = cornerAt({ width: kind.size[0], height: kind.size[1] }, at));
      show(laid.matrix);
      return true;
    };
    const release = () => {
      if (!laid) return false;
      const { document } = editor.state()!;
      const object = laid.surface === "ground" ? "" : laid.surface;
      const frame = frameOf(document.structures, object);
      const by = frame?.size ?? 1;
      const decal = {
        ...newDecal(document, vocabulary, kind.kind),
        ...lieOf(laid.matrix, frame),
        object,
        width: width / by,
        height: height / by,
        reach: kind.reach / by,
      };
      laid = null;
      editor.commit(`Lay ${decal.name}`, [{ op: "add", path: "/decals/-", value: decal }]);
      useView.getState().take(null);
      useView.getState().present({ part: "decals", id: decal.id });
      return true;
    };
    const cancel = () => ((laid = null), true);
    const letGo = gripping(gl.domElement.parentElement!, { press, move, release, cancel });
    return () => {
      letGo();
      box.visible = false;
      invalidate();
    };
  }, [held, vocabulary, gl, camera, scene, editor, box, invalidate]);

  return <primitive object={box} />;
}
