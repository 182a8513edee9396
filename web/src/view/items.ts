import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import type { Pack } from "../api/pack";
import { usePack } from "../api/queries";
import { useSiteContext } from "../site/context";
import type { Showing } from "../site/store";
import { BREAKS, coated } from "./coats";
import { litAsLeaves } from "./leaves";
import { drawnByProcessor } from "../site/machine";
import { usePreview } from "./preview";
import { textureOf } from "./textures";
import { useUniforms } from "./uniforms";
import { setStiffness, swaying, swayingDepth } from "./wind";

/** Levels of detail, as the core builds them: 0 whole, 1 some metres away, 2 far away, 3 a stand-in, if it has one. */
export const DETAILS = [0, 1, 2, 3];
const STAND_IN = 3;
/** Share of its coats that a stand-in shows: twigs hide what lies on the ones behind them. */
const STAND_IN_HOLDS = 0.35;
/** Below this share of its leaves a tree counts as bare. */
const BARE = 0.4;

/** What shape a kit item has. */
export interface ItemShape {
  /** By variant, then by level of detail. */
  geometries: THREE.BufferGeometry[][];
  /** The greatest extent of a copy of size 1, metres. */
  extent: number;
}

/** What a kit item looks like. */
export interface ItemLook {
  /** One for each part. */
  materials: THREE.Material[];
  /** Whether its branches are bare: then its stand-in, which has all twigs, looks better than a simple level of detail. */
  bare: boolean;
  /** What shadows are drawn with; the usual where it does not sway. */
  depth?: THREE.Material;
}

/** What the season does to an item. */
export type Life = Pick<ItemEntry, "leaves" | "colour" | "stiffness">;

type ItemEntry = SceneManifest["items"][number];
type Textures = { base: THREE.Texture; orm: THREE.Texture; normal: THREE.Texture };

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

function materialOf(
  entry: ItemEntry,
  part: string,
  picture: THREE.Texture | null,
  tile: Textures | undefined,
  showing: Showing,
) {
  const leafy = part === "card" || part === "stand_in";
  const side = entry.grows || leafy ? THREE.DoubleSide : THREE.FrontSide;
  const cut = leafy && picture ? { map: picture, alphaTest: part === "stand_in" ? 0.25 : 0.45 } : {};
  const alike = entry.grows || part === "stand_in";
  if (showing === "flat")
    return new THREE.MeshBasicMaterial({
      vertexColors: true,
      side,
      toneMapped: false,
      map: tile?.base ?? null,
      ...cut,
    });
  if (drawnByProcessor) {
    // Each way of drawing costs a slow machine a second to prepare: there plants and stones are plainly lit.
    const plain = new THREE.MeshLambertMaterial({ vertexColors: true, side, map: tile?.base ?? null, ...cut });
    if (alike) litAsLeaves(plain);
    return plain;
  }
  const made = new THREE.MeshStandardMaterial({ vertexColors: true, side, roughness: entry.roughness, ...cut });
  if (tile) {
    made.map = tile.base;
    made.roughnessMap = made.metalnessMap = tile.orm;
    made.roughness = made.metalness = 1;
    made.normalMap = tile.normal;
  }
  if (alike) litAsLeaves(made);
  return made;
}

/** The season's colour as a stand-in has it: what of it is bark does not turn, and without leaves all of it is. */
function faded({ colour, leaves }: Life): number[] {
  return colour.map((factor) => 1 + (factor - 1) * leaves);
}

/** Show the first of an item's leaves, as many as hang. */
export function hangLeaves(geometry: THREE.BufferGeometry, cards: number, share: number, leaf: number) {
  for (const group of geometry.groups) {
    if (group.materialIndex !== cards) continue;
    const all = (geometry.userData.leaves ??= group.count) as number;
    group.count = Math.round((all / 3 / leaf) * share) * leaf * 3;
  }
}

/** Shapes and looks of all items that a scene places, by kind. */
export interface Items {
  shapes: Map<string, ItemShape>;
  looks: Map<string, ItemLook>;
}

/** The items that a scene places; null until they are there. Other looks leave the shapes the same. */
export function useItems(scene: SceneManifest, showing: Showing, windy: boolean, isCoated: boolean): Items | null {
  const { siteId } = useSiteContext();
  const pack = usePack(scene.kit ? `/api/sites/${siteId}/kit?key=${scene.kit}&plain=${drawnByProcessor}` : null).data;
  const { items, tiles } = scene;
  const { gl, invalidate } = useThree();
  const uniforms = useUniforms();

  const textures = useMemo(() => {
    if (!pack) return null;
    const out = new Map<string, Textures>();
    for (const kind of tiles) {
      const of = (name: string) => pack.arrays[`tile/${kind}/${name}`];
      if (!of("base")) return null;
      const base = textureOf(of("base"), { colour: true, wraps: true });
      out.set(
        kind,
        of("orm")
          ? { base, orm: textureOf(of("orm"), { wraps: true }), normal: textureOf(of("normal"), { wraps: true }) }
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
          DETAILS.map((detail) => geometryOf(pack, `item/${item.kind}/${detail}/${variant}/`)).filter(
            (one) => one !== null,
          ),
        );
        const [card, standIn] = ["card", `${STAND_IN}/picture`].map((name) => {
          const found = pack.arrays[`item/${item.kind}/${name}`];
          return found ? textureOf(found, { colour: true }) : null;
        });
        const extent = Math.max(...geometries.map(([whole]) => whole.boundingSphere!.radius)) * 2;
        return { item, geometries, card, standIn, extent };
      });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the pack has what its own scene has
  }, [pack]);
  const byKind = useMemo(
    () => shapes && new Map(shapes.map(({ item, geometries, extent }) => [item.kind, { geometries, extent }])),
    [shapes],
  );
  const looks = useMemo(() => {
    if (!shapes || !textures) return null;
    const out = new Map<string, ItemLook>();
    for (const { item, card, standIn } of shapes) {
      const sways = windy && item.stiffness !== null;
      out.set(item.kind, {
        bare: false,
        materials: item.parts.map((part) => {
          const made = materialOf(item, part, part === "stand_in" ? standIn : card, textures.get(part), showing);
          if (sways) swaying(made, uniforms, item.stiffness!, item.height);
          const breaks = BREAKS[item.grows ? "grows" : "solid"];
          return isCoated ? coated(made, uniforms, part === "stand_in" ? STAND_IN_HOLDS : 1, breaks) : made;
        }),
        // Where each way of drawing is dear, shadows keep still.
        depth: sways && !drawnByProcessor ? swayingDepth(uniforms, item.stiffness!, item.height) : undefined,
      });
    }
    return out;
  }, [uniforms, shapes, textures, showing, windy, isCoated]);
  const life = usePreview((state) => state.life?.items);
  useEffect(() => {
    if (!looks) return;
    for (const item of items) {
      const look = looks.get(item.kind);
      const now: Life = life?.[item.kind] ?? item;
      if (look) look.bare = now.leaves < BARE;
      look?.materials.forEach((material) => setStiffness(material, now.stiffness));
      setStiffness(look?.depth, now.stiffness);
      item.parts.forEach((part, row) => {
        const material = look?.materials[row] as THREE.MeshBasicMaterial | undefined;
        if (!tiles.includes(part)) material?.color.fromArray(part === "stand_in" ? faded(now) : now.colour);
      });
      const cards = item.parts.indexOf("card");
      for (const geometry of byKind?.get(item.kind)?.geometries.flat() ?? [])
        hangLeaves(geometry, cards, now.leaves, item.leaf);
    }
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [looks, byKind, items, tiles, life, gl, invalidate]);

  useEffect(
    () => () => textures?.forEach((one) => Object.values(one).forEach((texture) => texture.dispose())),
    [textures],
  );
  useEffect(
    () => () =>
      shapes?.forEach(({ geometries, card, standIn }) => {
        geometries.flat().forEach((geometry) => geometry.dispose());
        card?.dispose();
        standIn?.dispose();
      }),
    [shapes],
  );
  useEffect(
    () => () =>
      looks?.forEach(({ materials, depth }) => {
        materials.forEach((material) => material.dispose());
        depth?.dispose();
      }),
    [looks],
  );
  return useMemo(() => byKind && looks && { shapes: byKind, looks }, [byKind, looks]);
}
