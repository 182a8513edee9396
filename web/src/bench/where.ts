import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { postPack, useSite } from "../api/queries";
import { shown } from "../api/declared";
import { useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { drawnByProcessor } from "../site/machine";
import type { Picture } from "../view/preview";

interface WhereMeta {
  measuring: string | null;
  covered?: number;
  area?: number;
  surfaces?: number;
  cards?: { id: string; low: number; high: number; coverage: number }[];
}

/** A layer's mask as measured: coverage, and for each card its histogram and what it alone lets through. */
export interface WhereReport {
  meta: WhereMeta;
  histogram: (row: number) => Float32Array;
  cardPicture: (row: number) => Picture;
  whole: Picture | null;
}

// Milliseconds without a change after which the report is asked for: while dragging the view comes first, the more so
// where the processor draws and each report would hold up the next picture.
const PAUSE = { dragging: drawnByProcessor ? 1500 : 450, resting: 100 };

/** The measured mask of a layer, following changes while they are made. */
function useWhereReport(layer: string, revision: number, chain: string) {
  const { siteId, stage } = useSiteContext();
  const draft = useView((state) => state.draft);
  const shotTicket = useView((state) => state.shotTicket);
  // Also a drag that is saved on its way is still being made.
  const stamp = JSON.stringify([revision, draft?.operations ?? []]);
  const [calm, setCalm] = useState(stamp);
  useEffect(() => {
    const timer = window.setTimeout(() => setCalm(stamp), draft ? PAUSE.dragging : PAUSE.resting);
    return () => window.clearTimeout(timer);
  }, [stamp, draft]);
  return useQuery({
    queryKey: ["where", siteId, layer, chain, calm, shotTicket],
    queryFn: async ({ signal }): Promise<WhereReport> => {
      const body = {
        layer,
        chain,
        operations: (JSON.parse(calm) as [number, unknown])[1],
        shot: { id: "now", name: "Now", ...stage.shot() },
        width: 192,
        height: 72,
      };
      const { arrays, meta } = await postPack<WhereMeta>(`/api/sites/${siteId}/where`, body, signal);
      const slice = (name: string, row: number) => {
        const { data, shape } = arrays[name];
        const size = shape.slice(1).reduce((a, b) => a * b, 1);
        return data.subarray(row * size, (row + 1) * size);
      };
      return {
        meta,
        histogram: (row) => slice("histograms", row) as Float32Array,
        cardPicture: (row) => ({
          data: slice("cards", row) as Uint8Array,
          height: arrays.cards.shape[1],
          width: arrays.cards.shape[2],
        }),
        whole: arrays.whole
          ? { data: arrays.whole.data as Uint8Array, height: arrays.whole.shape[0], width: arrays.whole.shape[1] }
          : null,
      };
    },
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
}

/** The measured mask of a layer at the site's present revision. */
export function useReport(layerId: string, chain = "where") {
  const { siteId } = useSiteContext();
  return useWhereReport(layerId, useSite(siteId).data!.revision, chain);
}

/** How much of its surfaces a mask covers, in words. */
export function coverage(report: WhereReport): string {
  return `${shown(((report.meta.covered ?? 0) / (report.meta.area || 1)) * 100, 0.1)} %`;
}
