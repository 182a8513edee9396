import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { overlaid } from "./overlay";
import { heightBelow, surfacesOf } from "./reach";
import { useDocument } from "../site/context";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";

/** Points of an outline's line in the view, metres apart at most. */
const STEP = 0.5;

/** The outline of the picked zone, laid over the ground. */
export function Zones() {
  const { scene, invalidate } = useThree();
  const document = useDocument();
  const picked = useView((state) => state.picked);
  const zone = picked?.part === "zones" ? document.zones.find((one) => one.id === picked.id) : undefined;
  const line = useMemo(() => {
    if (!zone) return null;
    const corners: [number, number][] =
      zone.shape === "circle"
        ? Array.from({ length: 64 }, (_, i) => {
            const angle = (i / 64) * 2 * Math.PI;
            return [zone.centre[0] + Math.cos(angle) * zone.radius, zone.centre[1] + Math.sin(angle) * zone.radius];
          })
        : (zone.outline as [number, number][]);
    const ground = surfacesOf(scene, new Set(), true);
    const points: THREE.Vector3[] = [];
    corners.forEach(([x, z], row) => {
      const [bx, bz] = corners[(row + 1) % corners.length];
      const steps = Math.min(60, Math.max(1, Math.ceil(Math.hypot(bx - x, bz - z) / STEP)));
      for (let k = 0; k < steps; k++) {
        const [px, pz] = [x + ((bx - x) * k) / steps, z + ((bz - z) * k) / steps];
        points.push(new THREE.Vector3(px, (heightBelow(ground, [px, 0, pz], 500) ?? 0) + 0.05, pz));
      }
    });
    const geometry = new THREE.BufferGeometry().setFromPoints(points);
    const material = new THREE.LineBasicMaterial({ color: partColours.zones, toneMapped: false, depthTest: false });
    const made = new THREE.LineLoop(geometry, material);
    made.raycast = () => undefined;
    made.renderOrder = 15;
    made.frustumCulled = false;
    return overlaid(made);
  }, [zone, scene]);
  useEffect(() => {
    invalidate();
    return () => {
      line?.geometry.dispose();
      line?.material.dispose();
    };
  }, [line, invalidate]);
  return line && <primitive object={line} />;
}
