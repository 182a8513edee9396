import { useThree } from "@react-three/fiber";
import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import * as THREE from "three";
import type { SceneManifest, Vocabulary } from "../api/client";
import { fetchPack, usePack, useVocabulary } from "../api/queries";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { Chunk, chunked, registerChunks } from "./chunks";
import { drawnByProcessor } from "./machine";
import { placementsOf, type PlacementsMeta, usePreview } from "./preview";

/** All scatter layers of a scene. */
export function Scatters({ scene }: { scene: SceneManifest }) {
  return scene.scatters.map((layer) => <ScatterLayer key={layer.id} id={layer.id} placementsKey={layer.placements} />);
}

// A slow machine draws all copies in their far form; the others the whole one.
const DETAIL = drawnByProcessor ? 1 : 0;

/** The meshes of kit items, one pack an item; ready when all are there. */
function useKit(items: string[], vocabulary: Vocabulary | undefined) {
  const wanted = (vocabulary?.kit ?? []).map((entry) => entry.kind).filter((kind) => items.includes(kind));
  return useQueries({
    queries: wanted.map((name) => ({
      queryKey: ["kit", name],
      queryFn: () => fetchPack(`/api/kit/${name}/meshes?detail=${DETAIL}`),
      staleTime: Infinity,
      gcTime: Infinity,
    })),
    combine: (results) => ({
      ready: wanted.length > 0 && results.every((result) => result.data),
      packs: results.map((result, index) => ({ name: wanted[index], pack: result.data })),
      stamp: wanted.join() + results.map((result) => result.dataUpdatedAt).join(),
    }),
  });
}

function ScatterLayer({ id, placementsKey }: { id: string; placementsKey: string }) {
  const { siteId } = useSiteContext();
  const gl = useThree((state) => state.gl);
  const invalidate = useThree((state) => state.invalidate);
  const look = useView((state) => (state.peeking ? "mask" : state.look));
  const vocabulary = useVocabulary().data;
  const saved = usePack<PlacementsMeta>(
    placementsKey ? `/api/sites/${siteId}/scatters/${id}/placements?key=${placementsKey}` : null,
  );
  const live = usePreview((state) => state.placements[id]);
  const placements = useMemo(
    () => live ?? (saved.data ? placementsOf(saved.data, "", saved.data.meta) : null),
    [live, saved.data],
  );
  const items = useMemo(() => [...new Set(placements?.meta.items ?? [])], [placements]);
  const kit = useKit(items, vocabulary);

  const geometries = useMemo(() => {
    if (!kit.ready) return null;
    const out = new Map<string, THREE.BufferGeometry>();
    for (const { name, pack } of kit.packs) {
      const { arrays } = pack!;
      for (let variant = 0; arrays[`${variant}/index`]; variant++) {
        const of = (column: string, width: number) =>
          new THREE.BufferAttribute(arrays[`${variant}/${column}`].data, width);
        const geometry = new THREE.BufferGeometry();
        geometry.setAttribute("position", of("position", 3));
        geometry.setAttribute("normal", of("normal", 3));
        geometry.setAttribute("color", of("colour", 3));
        geometry.setIndex(of("index", 1));
        out.set(`${name}/${variant}`, geometry);
      }
    }
    return out;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the stamp changes whenever a pack does
  }, [kit.stamp, kit.ready]);

  const materials = useMemo(() => {
    const out = new Map<string, THREE.Material>();
    for (const entry of vocabulary?.kit ?? []) {
      const side = entry.grows ? THREE.DoubleSide : THREE.FrontSide;
      out.set(
        entry.kind,
        look === "flat"
          ? new THREE.MeshBasicMaterial({ vertexColors: true, side, toneMapped: false, fog: false })
          : new THREE.MeshStandardMaterial({ vertexColors: true, side, roughness: entry.roughness }),
      );
    }
    return out;
  }, [vocabulary, look]);

  const group = useMemo(() => {
    const made = new THREE.Group();
    if (!placements || !geometries) return { made, chunks: [] as Chunk[] };
    const chunks = chunked(placements, geometries, materials);
    for (const chunk of chunks) made.add(chunk.mesh);
    return { made, chunks };
  }, [placements, geometries, materials]);

  useEffect(() => {
    const forget = registerChunks(id, group.chunks);
    gl.shadowMap.needsUpdate = true;
    invalidate();
    return () => {
      forget();
      for (const chunk of group.chunks) chunk.mesh.dispose();
    };
  }, [id, group, gl, invalidate]);
  useEffect(() => () => geometries?.forEach((geometry) => geometry.dispose()), [geometries]);
  useEffect(() => () => materials.forEach((material) => material.dispose()), [materials]);

  return <primitive object={group.made} visible={look !== "mask"} />;
}
