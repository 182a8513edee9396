import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import type { Pack } from "../api/pack";
import { fetchPack } from "../api/queries";
import { useSiteContext } from "../site/context";
import type { Look } from "../site/store";
import { drawnByProcessor } from "./machine";

/** Levels of detail, as the core builds them: 0 whole, 1 some metres away, 2 far away. */
export const DETAILS = [0, 1, 2];

/** What a kit item looks like: for each variant its geometry at each level of detail, and a material for each part. */
export interface ItemModel {
  /** By variant, then by level of detail. */
  geometries: THREE.BufferGeometry[][];
  materials: THREE.Material[];
  /** The greatest extent of a copy of size 1, metres. */
  extent: number;
}

type ItemEntry = SceneManifest["items"][number];
type Textures = { base: THREE.Texture; orm: THREE.Texture; normal: THREE.Texture };

function textureOf({ data, shape }: { data: unknown; shape: number[] }, colour: boolean, wraps: boolean) {
  const texture = new THREE.DataTexture(data as Uint8Array, shape[1], shape[0]);
  texture.colorSpace = colour ? THREE.SRGBColorSpace : THREE.NoColorSpace;
  texture.wrapS = texture.wrapT = wraps ? THREE.RepeatWrapping : THREE.ClampToEdgeWrapping;
  texture.magFilter = THREE.LinearFilter;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.anisotropy = drawnByProcessor ? 1 : 4;
  texture.needsUpdate = true;
  return texture;
}

/** Geometry of one variant out of an item's pack; null where the pack has no such variant. */
export function geometryOf(pack: Pack, variant: number): THREE.BufferGeometry | null {
  const { arrays } = pack;
  if (!arrays[`${variant}/index`]) return null;
  const geometry = new THREE.BufferGeometry();
  for (const [name, column, width] of [
    ["position", "position", 3],
    ["normal", "normal", 3],
    ["color", "colour", 3],
    ["uv", "uv", 2],
  ] as const)
    geometry.setAttribute(name, new THREE.BufferAttribute(arrays[`${variant}/${column}`].data, width));
  geometry.setIndex(new THREE.BufferAttribute(arrays[`${variant}/index`].data, 1));
  const groups = arrays[`${variant}/groups`].data;
  for (let i = 0; i < groups.length; i += 3) geometry.addGroup(groups[i + 1], groups[i + 2], groups[i]);
  geometry.computeBoundingSphere();
  return geometry;
}

/** Leaves are lit as their crown is round, the same from both sides. */
function bothSidesAlike(material: THREE.Material) {
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      "#include <normal_fragment_begin>",
      THREE.ShaderChunk.normal_fragment_begin.replace("gl_FrontFacing ? 1.0 : - 1.0", "1.0"),
    );
  };
}

function materialOf(
  entry: ItemEntry,
  part: string,
  card: THREE.Texture | null,
  tile: Textures | undefined,
  look: Look,
) {
  const leafy = part === "card";
  const side = entry.grows || leafy ? THREE.DoubleSide : THREE.FrontSide;
  const cut = leafy && card ? { map: card, alphaTest: 0.45 } : {};
  if (look === "flat")
    return new THREE.MeshBasicMaterial({
      vertexColors: true,
      side,
      toneMapped: false,
      fog: false,
      map: tile?.base ?? null,
      ...cut,
    });
  const made = new THREE.MeshStandardMaterial({ vertexColors: true, side, roughness: entry.roughness, ...cut });
  if (tile) {
    made.map = tile.base;
    made.roughnessMap = made.metalnessMap = tile.orm;
    made.roughness = 1;
    // Where no sky is mirrored, full metal would be black.
    made.metalness = drawnByProcessor ? 0.4 : 1;
    if (!drawnByProcessor) made.normalMap = tile.normal;
  }
  if (entry.grows) bothSidesAlike(made);
  return made;
}

/** Models of all items that a scene places, by kind; null until all of them are there. */
export function useItems(scene: SceneManifest, look: Look): Map<string, ItemModel> | null {
  const { siteId } = useSiteContext();
  const packs = useQueries({
    queries: scene.items.flatMap((item) =>
      DETAILS.map((detail) => ({
        queryKey: ["item", item.kind, item.key, detail],
        queryFn: () => fetchPack(`/api/sites/${siteId}/kit/${item.kind}/meshes?detail=${detail}&key=${item.key}`),
        staleTime: Infinity,
        gcTime: 60_000,
      })),
    ),
    combine: (results) => ({
      packs: results.map((one) => one.data),
      stamp: results.map((one) => one.dataUpdatedAt).join(),
    }),
  });
  const tiles = useQueries({
    queries: scene.tiles.map((tile) => ({
      queryKey: ["tile", tile.kind, tile.key],
      queryFn: () => fetchPack(`/api/sites/${siteId}/materials/${tile.kind}/tile?key=${tile.key}`),
      staleTime: Infinity,
      gcTime: 60_000,
    })),
    combine: (results) => ({
      packs: results.map((one) => one.data),
      stamp: results.map((one) => one.dataUpdatedAt).join(),
    }),
  });
  const ready = packs.packs.every(Boolean) && tiles.packs.every(Boolean);
  const stamp = scene.items.map((item) => item.key).join() + packs.stamp + tiles.stamp;

  const textures = useMemo(() => {
    if (!ready) return null;
    const out = new Map<string, Textures>();
    scene.tiles.forEach(({ kind }, row) => {
      const { base, orm, normal } = tiles.packs[row]!.arrays;
      out.set(kind, {
        base: textureOf(base, true, true),
        orm: textureOf(orm, false, true),
        normal: textureOf(normal, false, true),
      });
    });
    return out;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the stamp changes whenever a pack does
  }, [tiles.stamp, ready]);
  const shapes = useMemo(() => {
    if (!ready) return null;
    return scene.items.map((item, row) => {
      const own = DETAILS.map((_, detail) => packs.packs[row * DETAILS.length + detail]!);
      const geometries: THREE.BufferGeometry[][] = [];
      for (let variant = 0; variant < item.variants; variant++)
        geometries.push(own.map((pack) => geometryOf(pack, variant)!));
      const card = own[0].arrays.card ? textureOf(own[0].arrays.card, true, false) : null;
      return {
        item,
        geometries,
        card,
        extent: Math.max(...geometries.map(([whole]) => whole.boundingSphere!.radius)) * 2,
      };
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the stamp changes whenever a pack does
  }, [stamp, ready]);
  const models = useMemo(() => {
    if (!shapes || !textures) return null;
    const out = new Map<string, ItemModel>();
    for (const { item, geometries, card, extent } of shapes)
      out.set(item.kind, {
        geometries,
        extent,
        materials: item.parts.map((part) => materialOf(item, part, card, textures.get(part), look)),
      });
    return out;
  }, [shapes, textures, look]);

  useEffect(
    () => () => textures?.forEach((one) => Object.values(one).forEach((texture) => texture.dispose())),
    [textures],
  );
  useEffect(
    () => () =>
      shapes?.forEach(({ geometries, card }) => {
        geometries.flat().forEach((geometry) => geometry.dispose());
        card?.dispose();
      }),
    [shapes],
  );
  useEffect(
    () => () => models?.forEach((model) => model.materials.forEach((material) => material.dispose())),
    [models],
  );
  return models;
}
