import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import type { Fall } from "../api/daylight";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { fallingMesh, type ShelterMeta } from "./falling";
import { useUniforms } from "./uniforms";

interface Props {
  falls: Fall[];
  /** Key of what keeps it off. */
  shelter: string;
}

/** Rain and falling snow. */
export function Precipitation({ falls, shelter }: Props) {
  const { siteId } = useSiteContext();
  const invalidate = useThree((state) => state.invalidate);
  const uniforms = useUniforms();
  const pack = usePack<ShelterMeta>(shelter ? `/api/sites/${siteId}/shelter?key=${shelter}` : null).data;
  // The light is told anew at each of its numbers; what falls is made anew where it has changed itself.
  const told = JSON.stringify(falls);
  const meshes = useMemo(
    () => (pack ? (JSON.parse(told) as Fall[]).map((fall) => fallingMesh(fall, pack, uniforms)) : []),
    [told, pack, uniforms],
  );
  useEffect(() => {
    const { falling } = uniforms.water;
    meshes.forEach((mesh) => falling.add(mesh));
    invalidate();
    return () =>
      meshes.forEach((mesh) => {
        falling.delete(mesh);
        mesh.geometry.dispose();
        if (!Array.isArray(mesh.material)) mesh.material.dispose();
      });
  }, [meshes, uniforms, invalidate]);
  return meshes.map((mesh) => <primitive key={mesh.uuid} object={mesh} />);
}
