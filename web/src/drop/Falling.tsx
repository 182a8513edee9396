import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import type { JobState } from "../api/client";
import type { Pack } from "../api/pack";
import { fetchPack, usePack } from "../api/queries";
import { useJobs } from "../api/jobs";
import { useSiteContext } from "../site/context";

/** Things that fall at the moment, plain as they are until they rest. */
export function Falling() {
  const jobs = useJobs(useSiteContext().siteId);
  const falls = Object.values(jobs).filter((job) => job.kind === "drop" && job.state === "running");
  return falls.map((job) => <Fall key={job.id} job={job} />);
}

function Fall({ job }: { job: JobState }) {
  const { scene, invalidate } = useThree();
  const shapes = usePack<{ shapes: number }>(`/api/jobs/${job.id}/falling`).data;
  const [frame, setFrame] = useState<Pack | null>(null);
  useEffect(() => {
    let stale = false;
    // Each report of progress means that things have moved on.
    void fetchPack(`/api/jobs/${job.id}/frame`)
      .then((pack) => !stale && setFrame(pack))
      .catch(() => undefined);
    return () => {
      stale = true;
    };
  }, [job]);

  // A heap that is dropped anew is not seen meanwhile.
  const heap = job.result.heap as string | undefined;
  useEffect(() => {
    const old = heap ? scene.getObjectByName(heap) : undefined;
    if (!old) return;
    old.visible = false;
    return () => {
      old.visible = true;
    };
  }, [heap, scene]);

  const group = useMemo(() => {
    if (!shapes) return null;
    const made = new THREE.Group();
    const material = new THREE.MeshLambertMaterial({ color: "#a08a6a", flatShading: true });
    const counts = new Map<number, number>();
    for (const shape of shapes.arrays.shape.data) counts.set(shape, (counts.get(shape) ?? 0) + 1);
    for (let shape = 0; shape < shapes.meta.shapes; shape++) {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute("position", new THREE.BufferAttribute(shapes.arrays[`${shape}/position`].data, 3));
      geometry.setIndex(new THREE.BufferAttribute(shapes.arrays[`${shape}/index`].data, 1));
      const mesh = new THREE.InstancedMesh(geometry, material, counts.get(shape)!);
      mesh.count = 0;
      mesh.frustumCulled = false;
      mesh.raycast = () => undefined;
      made.add(mesh);
    }
    return made;
  }, [shapes]);
  useEffect(
    () => () => {
      (group?.children as THREE.InstancedMesh[] | undefined)?.forEach((one) => {
        one.geometry.dispose();
        (one.material as THREE.Material).dispose();
        one.dispose();
      });
      invalidate();
    },
    [group, invalidate],
  );

  useEffect(() => {
    if (!group || !frame?.arrays.row || !shapes) return;
    const meshes = group.children as THREE.InstancedMesh[];
    meshes.forEach((mesh) => (mesh.count = 0));
    const { row, position, rotation } = frame.arrays;
    const matrix = new THREE.Matrix4();
    const [place, turn, one] = [new THREE.Vector3(), new THREE.Quaternion(), new THREE.Vector3(1, 1, 1)];
    row.data.forEach((piece: number, at: number) => {
      const mesh = meshes[shapes.arrays.shape.data[piece]];
      place.fromArray(position.data as Float32Array, at * 3);
      turn.fromArray(rotation.data as Float32Array, at * 4);
      mesh.setMatrixAt(mesh.count++, matrix.compose(place, turn, one));
    });
    meshes.forEach((mesh) => (mesh.instanceMatrix.needsUpdate = true));
    performance.mark("cenote-falling", { detail: { pieces: row.data.length } });
    invalidate();
  }, [group, frame, shapes, invalidate]);

  return group && <primitive object={group} />;
}
