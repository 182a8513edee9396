import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import type { Drift } from "../api/daylight";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { driftingMesh, type ShelterMeta } from "./drifting";
import { useUniforms } from "./uniforms";

interface Props {
  drifts: Drift[];
  /** Key of what keeps rain off. */
  shelter: string;
}

/** What falls and floats: rain, snow, leaves, embers. */
export function Drifting({ drifts, shelter }: Props) {
  const { siteId } = useSiteContext();
  const invalidate = useThree((state) => state.invalidate);
  const uniforms = useUniforms();
  const pack = usePack<ShelterMeta>(shelter ? `/api/sites/${siteId}/shelter?key=${shelter}` : null).data;
  // The light is told anew at each of its numbers; what drifts is made anew where it has changed itself.
  const told = JSON.stringify(drifts);
  const meshes = useMemo(
    () => (pack ? (JSON.parse(told) as Drift[]).map((drift) => driftingMesh(drift, pack, uniforms)) : []),
    [told, pack, uniforms],
  );
  useEffect(() => {
    const { drifting } = uniforms.water;
    meshes.forEach((mesh) => drifting.add(mesh));
    invalidate();
    return () =>
      meshes.forEach((mesh) => {
        drifting.delete(mesh);
        mesh.geometry.dispose();
        if (!Array.isArray(mesh.material)) mesh.material.dispose();
      });
  }, [meshes, uniforms, invalidate]);
  return meshes.map((mesh) => <primitive key={mesh.uuid} object={mesh} />);
}
