import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { type Showing, useView } from "../site/store";
import { disposeSward, grassMaterial, registerSwards, swardsOf } from "../view/grass";
import { useUniforms } from "../view/uniforms";

type Entry = SceneManifest["grass"][number];

/** All grass of a scene. */
export function Grasses({ scene }: { scene: SceneManifest }) {
  const siteShown = useView((state) => state.siteShown);
  const showing = useView((state) => (state.peeking ? "mask" : state.showing));
  // The first picture does not wait for it, and a mask is looked at on what lies under it.
  if (!siteShown || showing === "mask") return null;
  return scene.grass.map((entry) => <On key={`${entry.layer} ${entry.surface}`} entry={entry} showing={showing} />);
}

function On({ entry, showing }: { entry: Entry; showing: Showing }) {
  const { siteId } = useSiteContext();
  const scene = useThree((state) => state.scene);
  const invalidate = useThree((state) => state.invalidate);
  const uniforms = useUniforms();
  const at = `/api/sites/${siteId}/grass/${entry.layer}/on/${entry.surface}?key=${entry.blades}`;
  const pack = usePack<{ longest: number; brightest: number }>(entry.blades ? at : null).data;
  const { look, wide } = entry;
  const brightest = pack?.meta.brightest ?? 1;
  const told = JSON.stringify(look);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- another answer with the same look is the same
  const material = useMemo(() => grassMaterial(uniforms, look, wide, brightest, showing), [uniforms, told, wide, brightest, showing]); // prettier-ignore
  useEffect(() => () => material.dispose(), [material]);
  const group = useMemo(() => new THREE.Group(), []);
  useEffect(() => {
    if (!pack) return undefined;
    const swards = swardsOf(pack, pack.meta.longest, material);
    for (const sward of swards) group.add(sward.group);
    const forget = registerSwards(scene, swards);
    invalidate();
    return () => {
      forget();
      group.clear();
      swards.forEach(disposeSward);
      invalidate();
    };
  }, [pack, material, scene, group, invalidate]);
  return <primitive object={group} name={`grass ${entry.layer}`} />;
}
