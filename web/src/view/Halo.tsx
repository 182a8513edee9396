import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import { useShallow } from "zustand/react/shallow";
import { pickedObjects, pickedOf, useView } from "../site/store";
import { colours } from "../theme/theme";
import { overlaid } from "./overlay";

const pickedLamps = pickedOf("lamps");

/** Lines that mark what is picked: a dashed box with ticks at its corners. */
export function Halo({ stamp }: { stamp: unknown }) {
  const { scene, invalidate } = useThree();
  const ids = useView(useShallow((state) => [...pickedObjects(state), ...pickedLamps(state)]));
  const moved = useView((state) => state.moved);
  const lines = useMemo(() => {
    const objects = ids.map((id) => scene.getObjectByName(id)).filter((object) => object !== undefined);
    if (!objects.length) return null;
    const group = new THREE.Group();
    for (const object of objects) group.add(...marked(object));
    group.traverse((one) => (one.raycast = () => undefined));
    return overlaid(group);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the stamps change when objects have moved
  }, [ids, scene, stamp, moved]);
  useEffect(() => {
    invalidate();
    return () =>
      lines?.traverse((one) => {
        const line = one as THREE.LineSegments;
        line.geometry?.dispose();
        (line.material as THREE.Material | undefined)?.dispose();
      });
  }, [lines, invalidate]);
  return lines && <primitive object={lines} />;
}

function marked(object: THREE.Object3D): THREE.LineSegments[] {
  object.updateMatrixWorld();
  const box = new THREE.Box3().setFromObject(object).expandByScalar(0.04);
  const corner = (i: number) =>
    new THREE.Vector3(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z);
  const edges: THREE.Vector3[] = [];
  const ticks: THREE.Vector3[] = [];
  for (let i = 0; i < 8; i++)
    for (const axis of [1, 2, 4])
      if (!(i & axis)) {
        const [a, b] = [corner(i), corner(i | axis)];
        edges.push(a, b);
        const reach = Math.min(0.35, a.distanceTo(b) * 0.22);
        const way = b.clone().sub(a).normalize().multiplyScalar(reach);
        ticks.push(a, a.clone().add(way), b, b.clone().sub(way));
      }
  const dashed = new THREE.LineSegments(
    new THREE.BufferGeometry().setFromPoints(edges),
    new THREE.LineDashedMaterial({ color: colours.water, dashSize: 0.12, gapSize: 0.12, toneMapped: false }),
  );
  dashed.computeLineDistances();
  const solid = new THREE.LineSegments(
    new THREE.BufferGeometry().setFromPoints(ticks),
    new THREE.LineBasicMaterial({ color: colours.water, toneMapped: false }),
  );
  return [dashed, solid];
}
