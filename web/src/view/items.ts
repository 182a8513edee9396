import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import type { Pack } from "../api/pack";
import { usePack } from "../api/queries";
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

/** Geometry of one variant at one level of detail out of a pack; null where the pack has none under that prefix. */
export function geometryOf(pack: Pack, prefix: string): THREE.BufferGeometry | null {
  const { arrays } = pack;
  if (!arrays[`${prefix}index`]) return null;
  const geometry = new THREE.BufferGeometry();
  for (const [name, column, width] of [
    ["position", "position", 3],
    ["normal", "normal", 3],
    ["color", "colour", 3],
    ["uv", "uv", 2],
  ] as const)
    geometry.setAttribute(name, new THREE.BufferAttribute(arrays[`${prefix}${column}`].data, width));
  geometry.setIndex(new THREE.BufferAttribute(arrays[`${prefix}index`].data, 1));
  const groups = arrays[`${prefix}groups`].data;
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
  if (drawnByProcessor) {
    // Each way of drawing costs a slow machine a second to prepare: there plants and stones are plainly lit.
    const plain = new THREE.MeshLambertMaterial({ vertexColors: true, side, map: tile?.base ?? null, ...cut });
    if (entry.grows) bothSidesAlike(plain);
    return plain;
  }
  const made = new THREE.MeshStandardMaterial({ vertexColors: true, side, roughness: entry.roughness, ...cut });
  if (tile) {
    made.map = tile.base;
    made.roughnessMap = made.metalnessMap = tile.orm;
    made.roughness = made.metalness = 1;
    made.normalMap = tile.normal;
  }
  if (entry.grows) bothSidesAlike(made);
  return made;
}

/** Models of all items that a scene places, by kind; null until they are there. */
export function useItems(scene: SceneManifest, look: Look): Map<string, ItemModel> | null {
  const { siteId } = useSiteContext();
  const pack = usePack(scene.kit ? `/api/sites/${siteId}/kit?key=${scene.kit}&plain=${drawnByProcessor}` : null).data;
  const { items, tiles } = scene;

  const textures = useMemo(() => {
    if (!pack) return null;
    const out = new Map<string, Textures>();
    for (const kind of tiles) {
      const of = (name: string) => pack.arrays[`tile/${kind}/${name}`];
      if (!of("base")) return null;
      const base = textureOf(of("base"), true, true);
      out.set(
        kind,
        of("orm")
          ? { base, orm: textureOf(of("orm"), false, true), normal: textureOf(of("normal"), false, true) }
          : { base, orm: base, normal: base },
      );
    }
    return out;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the pack has what its own scene has
  }, [pack]);
  const shapes = useMemo(() => {
    if (!pack) return null;
    return items
      .filter((item) => pack.arrays[`item/${item.kind}/0/0/index`])
      .map((item) => {
        const geometries = Array.from({ length: item.variants }, (_, variant) =>
          DETAILS.map((detail) => geometryOf(pack, `item/${item.kind}/${detail}/${variant}/`)!),
        );
        const card = pack.arrays[`item/${item.kind}/card`];
        const extent = Math.max(...geometries.map(([whole]) => whole.boundingSphere!.radius)) * 2;
        return { item, geometries, card: card ? textureOf(card, true, false) : null, extent };
      });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the pack has what its own scene has
  }, [pack]);
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
