import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import type { SceneManifest } from "../api/client";
import type { Pack } from "../api/pack";
import { usePack } from "../api/queries";
import { drawnByProcessor } from "../site/machine";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { laidGeometry } from "./laid";
import { textureOf } from "./textures";

type Entry = NonNullable<SceneManifest["surroundings"]>;

/** The land around the site, to the horizon. It is looked at and nothing else: it cannot be picked, and casts no shadow. */
export function Surroundings({ entry }: { entry: Entry }) {
  // The first picture does not wait for it; a mask is of the site alone.
  const shown = useView((state) => state.siteShown && state.showing !== "mask" && !state.peeking);
  return shown ? <Land entry={entry} /> : null;
}

function Land({ entry }: { entry: Entry }) {
  const { siteId } = useSiteContext();
  const invalidate = useThree((state) => state.invalidate);
  const flat = useView((state) => state.showing === "flat");
  const found = usePack(entry.land ? `/api/sites/${siteId}/surroundings?key=${entry.land}` : null).data;
  const tile = usePack(`/api/sites/${siteId}/materials/${entry.material}/tile?key=${entry.tile}`).data;
  // While the ground is measured anew, what was seen last stays.
  const last = useRef<Pack | undefined>(undefined);
  const pack = found ?? last.current;
  last.current = pack;
  const geometry = useMemo(() => (pack ? laidGeometry(pack, entry.size) : null), [pack, entry.size]);
  const textures = useMemo(
    () =>
      tile && {
        base: textureOf(tile.arrays.base, { colour: true, wraps: true }),
        orm: textureOf(tile.arrays.orm, { wraps: true }),
        normal: textureOf(tile.arrays.normal, { wraps: true }),
      },
    [tile],
  );
  useEffect(() => () => geometry?.dispose(), [geometry]);
  useEffect(() => () => Object.values(textures ?? {}).forEach((texture) => texture.dispose()), [textures]);
  useEffect(() => invalidate(), [geometry, textures, flat, invalidate]);
  if (!geometry || !textures) return null;
  // Under deep snow the ground's material is not seen.
  const textured = pack!.arrays.textured.data[0] === 1;
  const base = textured ? textures.base : null;
  const key = textured ? "textured" : "covered";
  return (
    <mesh geometry={geometry} receiveShadow raycast={() => undefined} name="surroundings">
      {flat ? (
        <meshBasicMaterial key={key} vertexColors map={base} toneMapped={false} />
      ) : drawnByProcessor ? (
        <meshLambertMaterial key={key} vertexColors map={base} />
      ) : (
        <meshStandardMaterial
          key={key}
          vertexColors
          map={base}
          roughnessMap={textured ? textures.orm : null}
          metalness={0}
          normalMap={textured ? textures.normal : null}
        />
      )}
    </mesh>
  );
}
