import { useQueries } from "@tanstack/react-query";
import { packQuery, usePack, useScene, useSite } from "../api/queries";
import { useSiteContext } from "../site/context";
import type { PlacementsMeta } from "../site/placements";
import { usePreview } from "../view/preview";

/** How many items a scatter layer has placed, and what they come to; follows a change while it is made. */
export function useLayerCount(id: string): PlacementsMeta | null {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const entry = useScene(siteId, revision, true).data?.scatters.find((one) => one.id === id);
  const saved = usePack<PlacementsMeta>(
    entry?.placements ? `/api/sites/${siteId}/scatters/${id}/placements?key=${entry.placements}` : null,
  );
  const live = usePreview((state) => state.placements[id]);
  return live?.meta ?? saved.data?.meta ?? null;
}

/** What the site comes to in triangles: its structures, and each planting layer by its id. */
export function useTriangles(): { structures: number; planting: Record<string, number> } {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const scene = useScene(siteId, revision, true).data;
  const layers = scene?.scatters.filter((one) => one.placements) ?? [];
  const live = usePreview((state) => state.placements);
  const packs = useQueries({
    queries: layers.map(({ id, placements }) =>
      packQuery<PlacementsMeta>(`/api/sites/${siteId}/scatters/${id}/placements?key=${placements}`),
    ),
  });
  const planting = Object.fromEntries(
    layers.map(({ id }, row) => [id, live[id]?.meta.triangles ?? packs[row].data?.meta.triangles ?? 0]),
  );
  return { structures: scene?.surfaces.reduce((sum, one) => sum + one.triangles, 0) ?? 0, planting };
}
