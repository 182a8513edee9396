import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { usePack, usePlacements } from "../api/queries";
import { picksIn } from "./hand";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { type Chunk, chunking, disposeChunk, dress, registerChunks } from "../view/chunks";
import { anyCoat, setCoats } from "../view/coats";
import { type Items, useItems } from "../view/items";
import { type Placements, placementsOf, type PlacementsMeta } from "../site/placements";
import { COATS, useUniforms } from "../view/uniforms";
import { usePreview } from "../view/preview";
import { inSlices } from "../view/slices";
import { WindMotion } from "../view/WindMotion";

/** All scatter layers of a scene. */
export function Scatters({ scene }: { scene: SceneManifest }) {
  const showing = useView((state) => (state.peeking ? "mask" : state.showing));
  const wind = usePreview((state) => state.life?.wind) ?? scene.wind;
  const coats = usePreview((state) => state.life?.coats) ?? scene.coats;
  // The first picture does not wait for what lies on plants.
  const isCoated = useView((state) => state.siteShown) && anyCoat(coats);
  const invalidate = useThree((state) => state.invalidate);
  const uniforms = useUniforms();
  const items = useItems(scene, showing === "mask" ? "lit" : showing, wind.strength > 0, isCoated);
  useEffect(() => {
    setCoats(uniforms, coats);
    invalidate();
  }, [uniforms, coats, invalidate]);
  return (
    <>
      <WindMotion wind={wind} />
      {scene.scatters.map((layer) => (
        <ScatterLayer
          key={layer.id}
          id={layer.id}
          placementsKey={layer.placements}
          coatsKey={isCoated ? layer.coats : ""}
          coated={isCoated}
          items={items}
          visible={showing !== "mask"}
        />
      ))}
    </>
  );
}

/** The copies of a layer, sorted for drawing. */
interface Built {
  group: THREE.Group;
  chunks: Chunk[];
  rows: number;
}

interface LayerProps {
  id: string;
  placementsKey: string;
  coatsKey: string;
  coated: boolean;
  items: Items | null;
  visible: boolean;
}

function ScatterLayer({ id, placementsKey, coatsKey, coated, items, visible }: LayerProps) {
  const { siteId, stage } = useSiteContext();
  const scene = useThree((state) => state.scene);
  const gl = useThree((state) => state.gl);
  const invalidate = useThree((state) => state.invalidate);
  const saved = usePlacements<PlacementsMeta>(siteId, id, placementsKey);
  const coats = usePack(coatsKey ? `/api/sites/${siteId}/scatters/${id}/coats?key=${coatsKey}` : null);
  const live = usePreview((state) => state.placements[id]);
  // What was tried and is saved now stays until its own table has come: the one before it would show for a moment.
  const [tried, setTried] = useState<Placements | undefined>(live);
  if (live && live !== tried) setTried(live);
  if (!live && tried && !saved.isPlaceholderData) setTried(undefined);
  const shown = live ?? tried;
  const placements = useMemo(
    () => shown ?? (saved.data ? placementsOf(saved.data, "", saved.data.meta) : null),
    [shown, saved.data],
  );

  const shapes = items?.shapes;
  const looks = items?.looks;
  const [built, setBuilt] = useState<Built | null>(null);
  useEffect(() => {
    if (!placements || !shapes) return setBuilt(null);
    // What was there stays until all of it has been sorted.
    return inSlices(chunking(placements, shapes), (chunks) => {
      const group = new THREE.Group();
      for (const chunk of chunks) group.add(chunk.group);
      performance.mark("cenote-chunks", { detail: { layer: id, copies: placements.item.length } });
      setBuilt({ group, chunks, rows: placements.item.length });
    });
  }, [id, placements, shapes]);
  useEffect(() => {
    if (!built || !looks) return;
    const found = coats.data?.arrays.masks.data as Uint8Array | undefined;
    // Until they have come, and for items that are only tried, nothing lies on them.
    const length = built.rows * COATS;
    dress(built.chunks, looks, !coated ? null : found?.length === length ? found : new Uint8Array(length));
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [built, looks, coated, coats.data, gl, invalidate]);

  useEffect(() => {
    if (placements) {
      stage.placed.set(id, placements);
      const picks = picksIn(id, placements);
      useView.setState((state) => ({ tableTicket: state.tableTicket + 1, ...(picks ? { placed: picks } : {}) }));
    }
    return () => void stage.placed.delete(id);
  }, [id, placements, stage]);
  useEffect(() => {
    if (!built) return;
    const forget = registerChunks(scene, id, built.chunks);
    return () => {
      forget();
      built.chunks.forEach(disposeChunk);
    };
  }, [scene, id, built]);
  useEffect(() => invalidate(), [visible, invalidate]);

  return built && <primitive object={built.group} visible={visible} />;
}
