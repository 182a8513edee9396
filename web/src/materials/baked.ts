import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { Pack } from "../api/pack";
import { fetchPack, postPack } from "../api/queries";
import { useSiteContext } from "../site/context";
import type { Entry } from "./recipes";

export interface BakedTextures {
  base: THREE.DataTexture;
  orm: THREE.DataTexture;
  normal: THREE.DataTexture;
}

export interface Baked {
  variants: BakedTextures[];
  /** Side of the tile, metres. */
  size: number;
}

function texture({ data, shape }: { data: unknown; shape: number[] }, colour: boolean): THREE.DataTexture {
  const made = new THREE.DataTexture(data as Uint8Array, shape[1], shape[0]);
  made.colorSpace = colour ? THREE.SRGBColorSpace : THREE.NoColorSpace;
  made.wrapS = made.wrapT = THREE.RepeatWrapping;
  made.magFilter = THREE.LinearFilter;
  made.minFilter = THREE.LinearMipmapLinearFilter;
  made.generateMipmaps = true;
  made.anisotropy = 4;
  made.needsUpdate = true;
  return made;
}

/**
 * The tiles of a material as it is being edited, with fewer pixels while something is dragged.
 * The last ones stay until the next have come.
 */
export function useBaked(entry: Entry, seeds: number[], pixels: number): Baked | null {
  const { siteId } = useSiteContext();
  const wanted = entry.recipe ? { recipe: entry.recipe, pixels, seeds } : entry.kind;
  const { data } = useQuery({
    queryKey: ["baked", siteId, wanted],
    queryFn: ({ signal }): Promise<Pack<{ size: number }>> =>
      entry.recipe
        ? postPack(`/api/sites/${siteId}/materials/bake`, wanted, signal)
        : fetchPack(`/api/sites/${siteId}/materials/${entry.kind}/tile`, signal),
    placeholderData: (last) => last,
    staleTime: Infinity,
    gcTime: 10_000,
  });
  const baked = useMemo(() => {
    if (!data) return null;
    const prefixes = data.arrays["0/base"] ? [0, 1, 2, 3, 4, 5].map((row) => `${row}/`) : [""];
    const variants = prefixes
      .filter((prefix) => data.arrays[`${prefix}base`])
      .map((prefix) => ({
        base: texture(data.arrays[`${prefix}base`], true),
        orm: texture(data.arrays[`${prefix}orm`], false),
        normal: texture(data.arrays[`${prefix}normal`], false),
      }));
    return { variants, size: data.meta.size };
  }, [data]);
  useEffect(
    () => () => baked?.variants.forEach((one) => Object.values(one).forEach((map: THREE.DataTexture) => map.dispose())),
    [baked],
  );
  return baked;
}
