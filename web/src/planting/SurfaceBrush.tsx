import { useThree } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import * as THREE from "three";
import type { Operation } from "../api/client";
import type { Point } from "../site/poses";
import { gripping } from "../view/grips";
import { pointerAt, surfacesOf } from "../view/reach";
import { useSiteContext } from "../site/context";
import { valueAt } from "../site/patch";
import { brushIn } from "../site/inHand";
import { useView } from "../site/store";
import { useRing } from "../view/useRing";

const RING = 48;
const caster = new THREE.Raycaster();
const UP = new THREE.Vector3(0, 0, 1);

/** A brush over any surface: paints into a mask or wipes out of it, sows a scatter or thins it. */
export function SurfaceBrush() {
  const { editor } = useSiteContext();
  const { gl, camera, scene, invalidate } = useThree();
  const brush = useView(brushIn);
  const over = brush?.strokes !== undefined;
  const latest = useRef(brush);
  latest.current = brush;

  const ring = useRing(RING);

  useEffect(() => {
    if (!over) return;
    let path: Point[] = [];
    let saved: unknown[] = [];
    let gesture = "";
    const hit = (event: PointerEvent) => {
      caster.setFromCamera(pointerAt(event, gl.domElement), camera);
      return caster.intersectObjects(surfacesOf(scene, new Set()), false)[0] ?? null;
    };
    const operations = (): Operation[] => {
      const { tool, radius, strength, soft, strokes, items } = latest.current!;
      const adds = tool === "stroke" || tool === "sow";
      const stroke = { adds, radius, strength: Math.min(1, strength), soft, path };
      const added = tool === "sow" || tool === "thin" ? { ...stroke, items: items ?? [] } : stroke;
      // The saved strokes and this one: sent again while it grows, it must not be added twice.
      return [{ op: "replace", path: strokes!, value: [...saved, added] }];
    };
    const work = () => editor.draft({ gesture, label: latest.current!.label ?? "Stroke", operations: operations() });
    const show = (found: THREE.Intersection | null) => {
      ring.visible = found !== null;
      if (found) {
        const normal = (found.face?.normal ?? UP).clone().transformDirection(found.object.matrixWorld);
        ring.position.copy(found.point).addScaledVector(normal, 0.02);
        ring.quaternion.setFromUnitVectors(UP, normal);
        ring.scale.setScalar(latest.current!.radius);
      }
      invalidate();
    };
    const press = (event: PointerEvent) => {
      if (event.button !== 0 || event.target !== gl.domElement) return false;
      const found = hit(event);
      const held = editor.state();
      if (!found || !held) return false;
      gesture = crypto.randomUUID();
      saved = (valueAt(held.document, latest.current!.strokes!) as unknown[]) ?? [];
      path = [found.point.toArray().map((one) => Number(one.toFixed(3))) as Point];
      work();
      return true;
    };
    const move = (event: PointerEvent) => {
      const found = hit(event);
      show(found);
      if (!path.length || !found) return path.length > 0;
      const last = path[path.length - 1];
      const at = found.point.toArray().map((one) => Number(one.toFixed(3))) as Point;
      const apart = Math.hypot(at[0] - last[0], at[1] - last[1], at[2] - last[2]);
      if (apart < latest.current!.radius * 0.25 || path.length >= 600) return true;
      path = [...path, at];
      work();
      return true;
    };
    const release = () => {
      if (!path.length) return false;
      path = [];
      editor.settle();
      return true;
    };
    const letGo = gripping(gl.domElement.parentElement!, { press, move, release });
    return () => {
      letGo();
      ring.visible = false;
      invalidate();
    };
  }, [over, gl, camera, scene, editor, ring, invalidate]);

  return <primitive object={ring} />;
}
