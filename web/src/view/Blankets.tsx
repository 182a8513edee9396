import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import type { Pack } from "../api/pack";
import { laidGeometry } from "./laid";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { drawnByProcessor } from "../site/machine";
import { afterAlone } from "./parting";
import { usePreview } from "./preview";
import { textureOf } from "./textures";
import { useUniforms } from "./uniforms";

type BlanketEntry = SceneManifest["blankets"][number];

/** Covers that lie as sheets of their own, such as deep snow. */
export function Blankets({ scene }: { scene: SceneManifest }) {
  const live = usePreview((state) => state.life?.blankets);
  // The first picture does not wait for them.
  const siteShown = useView((state) => state.siteShown);
  const asMask = useView((state) => state.showing === "mask" || state.peeking);
  if (!siteShown || asMask) return null;
  return (live ?? scene.blankets).map((entry) => <BlanketMesh key={entry.layer} entry={entry} />);
}

function BlanketMesh({ entry }: { entry: BlanketEntry }) {
  const { siteId } = useSiteContext();
  const gl = useThree((state) => state.gl);
  const invalidate = useThree((state) => state.invalidate);
  const flat = useView((state) => state.showing === "flat");
  const uniforms = useUniforms();
  const compile = useMemo(() => afterAlone(uniforms), [uniforms]);
  const live = usePreview((state) => state.sheets[entry.layer]);
  const saved = usePack(entry.sheet ? `/api/sites/${siteId}/blankets/${entry.layer}?key=${entry.sheet}` : null);
  const tile = usePack(
    drawnByProcessor ? null : `/api/sites/${siteId}/materials/${entry.material}/tile?key=${entry.tile}`,
  );
  // Until the finished one has come, what was seen last stays.
  const last = useRef<Pack | undefined>(undefined);
  const pack = live ?? saved.data ?? last.current;
  last.current = pack;
  const geometry = useMemo(() => (pack ? laidGeometry(pack, entry.size) : null), [pack, entry.size]);
  const textures = useMemo(
    () =>
      tile.data && {
        normal: textureOf(tile.data.arrays.normal, { wraps: true }),
        orm: textureOf(tile.data.arrays.orm, { wraps: true }),
      },
    [tile.data],
  );
  const [r, g, b] = entry.colour;
  const colour = useMemo(() => new THREE.Color().setRGB(r, g, b, THREE.LinearSRGBColorSpace), [r, g, b]);
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
    return () => {
      geometry?.dispose();
      gl.shadowMap.needsUpdate = true;
    };
  }, [geometry, gl, invalidate]);
  useEffect(() => () => Object.values(textures ?? {}).forEach((texture) => texture.dispose()), [textures]);
  useEffect(() => invalidate(), [textures, colour, flat, invalidate]);
  if (!geometry) return null;
  return (
    // What lies below it is what is picked.
    <mesh geometry={geometry} castShadow receiveShadow name={`blanket ${entry.layer}`} raycast={() => undefined}>
      {flat ? (
        <meshBasicMaterial color={colour} toneMapped={false} onBeforeCompile={compile} />
      ) : drawnByProcessor ? (
        <meshLambertMaterial color={colour} onBeforeCompile={compile} />
      ) : (
        <meshStandardMaterial
          key={textures ? "tiled" : "plain"}
          onBeforeCompile={compile}
          color={colour}
          roughness={textures ? 1 : entry.roughness}
          normalMap={textures?.normal ?? null}
          roughnessMap={textures?.orm ?? null}
          metalness={0}
        />
      )}
    </mesh>
  );
}
