import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { pickedObjects, useView } from "../site/store";
import { colours } from "../theme/theme";

type Entry = SceneManifest["obstacles"][number];

/** What is seen by its shadow alone: while it is picked, as a wire. The pointer goes through it. */
export function Obstacles({ entries }: { entries: Entry[] }) {
  return entries.map((entry) => <Obstacle key={entry.id} entry={entry} />);
}

function Obstacle({ entry }: { entry: Entry }) {
  const { siteId } = useSiteContext();
  const { gl, invalidate } = useThree();
  const picked = useView((state) => pickedObjects(state).includes(entry.id));
  const pack = usePack(`/api/sites/${siteId}/surfaces/${entry.id}/mesh?key=${entry.mesh}`).data;
  const geometry = useMemo(() => {
    if (!pack) return null;
    const made = new THREE.BufferGeometry();
    made.setAttribute("position", new THREE.BufferAttribute(pack.arrays.position.data, 3));
    made.setIndex(new THREE.BufferAttribute(pack.arrays.index.data, 1));
    return made;
  }, [pack]);
  const matrix = useMemo(
    () => new THREE.Matrix4().set(...(entry.matrix as Parameters<THREE.Matrix4["set"]>)),
    [entry.matrix],
  );
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
    return () => {
      gl.shadowMap.needsUpdate = true;
      geometry?.dispose();
      invalidate();
    };
  }, [geometry, matrix, gl, invalidate]);
  useEffect(() => invalidate(), [picked, invalidate]);
  if (!geometry) return null;
  return (
    <mesh
      geometry={geometry}
      matrix={matrix}
      matrixAutoUpdate={false}
      castShadow
      name={entry.id}
      raycast={() => undefined}
    >
      {/* What casts a shadow must be drawn, be it without leaving a trace. */}
      <meshBasicMaterial colorWrite={false} depthWrite={false} side={THREE.DoubleSide} />
      {picked && (
        <mesh geometry={geometry} raycast={() => undefined}>
          <meshBasicMaterial
            wireframe
            transparent
            opacity={0.35}
            color={colours.water}
            depthWrite={false}
            toneMapped={false}
          />
        </mesh>
      )}
    </mesh>
  );
}
