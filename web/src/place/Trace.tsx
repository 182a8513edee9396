import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { pointerAt, surfacesOf, underPointer } from "../view/reach";
import { finishTrace } from "./tracing";

/** Metres that a drawn line is shown above what it lies on. */
const ABOVE = 0.04;

/** A line or place being drawn on what stands in the view: a click sets a point. */
export function Trace() {
  const { siteId, editor } = useSiteContext();
  const { gl, camera, scene, invalidate } = useThree();
  const tracing = useView((state) => state.tracing);
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
    return group;
  }, [tracing]);
  useEffect(() => invalidate(), [shown, invalidate]);

  useEffect(() => {
    if (!drawing) return;
    const frame = gl.domElement.parentElement!;
    let down: [number, number] | null = null;
    const press = (event: PointerEvent) => {
      if (event.button === 0 && event.target === gl.domElement) down = [event.clientX, event.clientY];
    };
    const release = (event: PointerEvent) => {
      // A drag moves the camera, as it always does.
      const still = down && Math.hypot(event.clientX - down[0], event.clientY - down[1]) < 4;
      down = null;
      if (!still) return;
      const at = underPointer(pointerAt(event, gl.domElement), camera, surfacesOf(scene, new Set()));
      const now = useView.getState().tracing;
      if (!at || !now) return;
      const next = { ...now, points: [...now.points, at] };
      useView.setState({ tracing: next });
      if (now.draws === "place") void finishTrace(siteId, editor, next);
    };
    frame.addEventListener("pointerdown", press, true);
    frame.addEventListener("pointerup", release, true);
    return () => {
      frame.removeEventListener("pointerdown", press, true);
      frame.removeEventListener("pointerup", release, true);
    };
  }, [drawing, gl, camera, scene, siteId, editor]);

  return shown && <primitive object={shown} />;
}
