import { useMemo } from "react";
import type { Shot } from "../api/client";
import { emptyStage } from "../site/stage";
import { useView } from "../site/store";
import type { Lens } from "./lens";

/** The lens that one looks through: that of the shot which was gone to last. */
export function useShotLens(shots: Shot[]): Lens {
  const id = useView((state) => state.shotId);
  const { lens, frame, upright } = shots.find((one) => one.id === id) ?? shots[0] ?? emptyStage().shot();
  return useMemo(() => ({ lens, frame, upright }), [lens, frame, upright]);
}
