import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useState } from "react";
import * as THREE from "three";
import type { SceneManifest } from "../api/client";
import { usePack, usePlacements } from "../api/queries";
import { picksIn } from "./hand";
import { placedNow } from "./placedNow";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { type Chunk, chunked, disposeChunk, registerChunks } from "../view/chunks";
import { anyCoat, COATS, setCoats } from "../view/coats";
import { type ItemModel, useItems } from "../view/items";
import { type Placements, placementsOf, type PlacementsMeta, usePreview } from "../view/preview";
import { WindMotion } from "../view/WindMotion";

/** All scatter layers of a scene. */
export function Scatters({ scene }: { scene: SceneManifest }) {
  const showing = useView((state) => (state.peeking ? "mask" : state.showing));
  const wind = usePreview((state) => state.life?.wind) ?? scene.wind;
  const coats = usePreview((state) => state.life?.coats) ?? scene.coats;
  // The first picture does not wait for what lies on plants.
  const isCoated = useView((state) => state.siteShown) && anyCoat(coats);
  const invalidate = useThree((state) => state.invalidate);
  const models = useItems(scene, showing === "mask" ? "lit" : showing, wind.strength > 0, isCoated);
  useEffect(() => {
    setCoats(coats);
    invalidate();
  }, [coats, invalidate]);
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
          models={models}
          visible={showing !== "mask"}
        />
      ))}
    </>
  );
}

interface LayerProps {
  id: string;
  placementsKey: string;
  coatsKey: string;
  coated: boolean;
  models: Map<string, ItemModel> | null;
  visible: boolean;
}

function ScatterLayer({ id, placementsKey, coatsKey, coated, models, visible }: LayerProps) {
  const { siteId } = useSiteContext();
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

  const group = useMemo(() => {
    const made = new THREE.Group();
    if (!placements || !models) return null;
    const rows = placements.item.length;
    const found = coats.data?.arrays.masks.data as Uint8Array | undefined;
    // Until they have come, and for items that are only tried, nothing lies on them.
    const masks = !coated ? null : found?.length === rows * COATS ? found : new Uint8Array(rows * COATS);
    const chunks: Chunk[] = chunked(placements, models, masks);
    for (const chunk of chunks) made.add(chunk.group);
    return { made, chunks };
  }, [placements, models, coated, coats.data]);

  useEffect(() => {
    if (placements) {
      placedNow.set(id, placements);
      const picks = picksIn(id, placements);
      useView.setState((state) => ({ tableTicket: state.tableTicket + 1, ...(picks ? { placed: picks } : {}) }));
    }
    return () => void placedNow.delete(id);
  }, [id, placements]);
  useEffect(() => {
    if (!group) return;
    const forget = registerChunks(id, group.chunks);
    gl.shadowMap.needsUpdate = true;
    invalidate();
    return () => {
      forget();
      group.chunks.forEach(disposeChunk);
    };
  }, [id, group, gl, invalidate]);
  useEffect(() => invalidate(), [visible, invalidate]);

  return group && <primitive object={group.made} visible={visible} />;
}
