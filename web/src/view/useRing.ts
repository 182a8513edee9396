import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { colours } from "../theme/theme";
import { overlaid } from "./overlay";

/** A ring of so many points for a brush to show its reach with, over everything and never picked; hidden at first. */
export function useRing(points: number): THREE.LineLoop<THREE.BufferGeometry, THREE.LineBasicMaterial> {
  const ring = useMemo(() => {
    const circle = Array.from({ length: points }, (_, i) => {
      const angle = (i / points) * 2 * Math.PI;
      return new THREE.Vector3(Math.cos(angle), Math.sin(angle), 0);
    });
    const material = new THREE.LineBasicMaterial({ color: colours.water, toneMapped: false, depthTest: false });
    const made = new THREE.LineLoop(new THREE.BufferGeometry().setFromPoints(circle), material);
    made.raycast = () => undefined;
    made.frustumCulled = false;
    made.renderOrder = 20;
    made.visible = false;
    return overlaid(made);
  }, [points]);
  useEffect(
    () => () => {
      ring.geometry.dispose();
      ring.material.dispose();
    },
    [ring],
  );
  return ring;
}
