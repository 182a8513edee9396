import { usePack, useScene, useSite } from "../api/queries";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { type PlacementsMeta, usePreview } from "../view/preview";

/** How many items a scatter layer has placed, and what they come to; follows a change while it is made. */
export function useLayerCount(id: string): PlacementsMeta | null {
  const { siteId } = useSiteContext();
  const revision = useSite(siteId).data!.revision;
  const texel = useView((state) => state.texel);
  const entry = useScene(siteId, revision, texel, true).data?.scatters.find((one) => one.id === id);
  const saved = usePack<PlacementsMeta>(
    entry?.placements ? `/api/sites/${siteId}/scatters/${id}/placements?key=${entry.placements}` : null,
  );
  const live = usePreview((state) => state.placements[id]);
  return live?.meta ?? saved.data?.meta ?? null;
}
