import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { useSiteContext } from "../site/context";
import { tracingIn } from "../site/inHand";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { gripping } from "../view/grips";
import { overlaid } from "../view/overlay";
import { pointerAt, surfacesOf, underPointer } from "../view/reach";
import { finishTrace } from "./tracing";

/** Metres that a drawn line is shown above what it lies on. */
const ABOVE = 0.04;

/** A line or place being drawn on what stands in the view: a click sets a point. */
export function Trace() {
  const { siteId, editor } = useSiteContext();
  const { gl, camera, scene, invalidate } = useThree();
  const tracing = useView(tracingIn);
  const drawing = tracing !== null;

  const shown = useMemo(() => {
    if (!tracing?.points.length) return null;
    const points = tracing.points.map(([x, y, z]) => new THREE.Vector3(x, y + ABOVE, z));
    const geometry = new THREE.BufferGeometry().setFromPoints(points);
    const material = { color: colours.water, toneMapped: false, depthTest: false };
    const group = new THREE.Group();
    const line = tracing.draws === "outline" ? THREE.LineLoop : THREE.Line;
    group.add(
      new line(geometry, new THREE.LineBasicMaterial(material)),
      new THREE.Points(geometry, new THREE.PointsMaterial({ ...material, size: 9, sizeAttenuation: false })),
    );
    group.traverse((one) => {
      one.raycast = () => undefined;
      one.renderOrder = 20;
      one.frustumCulled = false;
    });
    return overlaid(group);
  }, [tracing]);
  useEffect(() => {
    invalidate();
    return () =>
      shown?.children.forEach((one) => {
        (one as THREE.Line<THREE.BufferGeometry, THREE.Material>).geometry.dispose();
        (one as THREE.Line<THREE.BufferGeometry, THREE.Material>).material.dispose();
      });
  }, [shown, invalidate]);

  useEffect(() => {
    if (!drawing) return;
    let down: [number, number] | null = null;
    const press = (event: PointerEvent) => {
      if (event.button === 0 && event.target === gl.domElement) down = [event.clientX, event.clientY];
      // A drag moves the camera, as it always does.
      return false;
    };
    const release = (event: PointerEvent) => {
      const still = down && Math.hypot(event.clientX - down[0], event.clientY - down[1]) < 4;
      down = null;
      const at = still && underPointer(pointerAt(event, gl.domElement), camera, surfacesOf(scene, new Set()));
      const now = tracingIn(useView.getState());
      if (!at || !now) return false;
      const next = { ...now, points: [...now.points, at] };
      useView.getState().take(next);
      if (now.draws === "place") void finishTrace(siteId, editor, next);
      return false;
    };
    const cancel = () => ((down = null), false);
    return gripping(gl.domElement.parentElement!, { press, release, cancel });
  }, [drawing, gl, camera, scene, siteId, editor]);

  return shown && <primitive object={shown} />;
}
