import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { useUniforms } from "../view/uniforms";
import { dropMaterial } from "../view/water/beading";
import { asDrop } from "../view/water/waters";

type Entry = SceneManifest["droplets"][number];

/** Drops of water on surfaces, where light is shown. */
export function Droplets({ entries }: { entries: Entry[] }) {
  const siteShown = useView((state) => state.siteShown);
  const lit = useView((state) => state.showing === "lit" && !state.peeking);
  const uniforms = useUniforms();
  const material = useMemo(() => dropMaterial(uniforms), [uniforms]);
  useEffect(() => () => material.dispose(), [material]);
  // The first picture does not wait for them.
  if (!siteShown || !lit) return null;
  return entries.map((entry) => <On key={`${entry.layer} ${entry.surface}`} entry={entry} material={material} />);
}

function On({ entry, material }: { entry: Entry; material: THREE.Material }) {
  const { siteId } = useSiteContext();
  const uniforms = useUniforms();
  const invalidate = useThree((state) => state.invalidate);
  const at = `/api/sites/${siteId}/droplets/${entry.layer}/on/${entry.surface}?key=${entry.mesh}`;
  const pack = usePack<{ widest: number }>(entry.mesh ? at : null).data;
  const widest = pack?.meta.widest ?? 0;
  const mesh = useMemo(() => {
    if (!pack?.arrays.index.data.length) return null;
    const { position, normal, index } = pack.arrays;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(position.data, 3));
    geometry.setAttribute("normal", new THREE.BufferAttribute(normal.data, 3));
    geometry.setIndex(new THREE.BufferAttribute(index.data, 1));
    geometry.computeBoundingSphere();
    const made = new THREE.Mesh(geometry, material);
    // What lies below them is what is picked.
    made.raycast = () => undefined;
    made.name = `droplets ${entry.layer}`;
    asDrop(made);
    return made;
  }, [pack, material, entry.layer]);
  useEffect(() => {
    if (!mesh) return undefined;
    const { drops } = uniforms.water;
    drops.set(mesh, widest);
    invalidate();
    return () => {
      drops.delete(mesh);
      mesh.geometry.dispose();
      invalidate();
    };
  }, [mesh, widest, uniforms, invalidate]);
  return mesh && <primitive object={mesh} />;
}
