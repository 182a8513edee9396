import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { Pack } from "../api/pack";
import { fetchPack, postPack } from "../api/queries";
import { useSiteContext } from "../site/context";
import { textureOf } from "../view/textures";
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
        base: textureOf(data.arrays[`${prefix}base`], { colour: true, wraps: true }),
        orm: textureOf(data.arrays[`${prefix}orm`], { wraps: true }),
        normal: textureOf(data.arrays[`${prefix}normal`], { wraps: true }),
      }));
    return { variants, size: data.meta.size };
  }, [data]);
  useEffect(
    () => () => baked?.variants.forEach((one) => Object.values(one).forEach((map: THREE.DataTexture) => map.dispose())),
    [baked],
  );
  return baked;
}
