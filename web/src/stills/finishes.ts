import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { changeHeaders, client, problemOf, type Schemas, type SiteDocument, unwrap } from "../api/client";
import { readPack, type Pack } from "../api/pack";
import { freshId, freshName } from "../site/layers";
import { useStartedJob } from "../jobs/useStartedJob";
import type { Still } from "./stills";

export type Finish = SiteDocument["finishes"][number];
export type FinishStep = Finish["steps"][number];
export type FileFormat = Schemas["FileRequest"]["format"];

/** How the table of a finish's tones is read, and the rows of the steps that it leaves out. */
export interface TonesMeta {
  bends: number;
  most: number;
  left_out: number[];
}

/** Files that a finished still is written to. */
export const FORMATS: { format: FileFormat; label: string }[] = [
  { format: "png", label: "PNG" },
  { format: "png16", label: "PNG, 16 bits" },
  { format: "jpeg", label: "JPEG" },
  { format: "tiff", label: "TIFF, 16 bits" },
  { format: "exr", label: "EXR, linear" },
];
/** Pixels that a still is finished at while it is looked at. */
const LOOKED_AT = 1280;
/** Milliseconds that a value rests before it is. */
const RESTS = 120;

/** A finish without steps. */
export const newFinish = ({ finishes }: SiteDocument, like = "Finish"): Finish => ({
  id: freshId("finish"),
  name: freshName(
    like,
    finishes.map(({ name }) => name),
  ),
  steps: [],
});

/** Of what has no finish; always the same, so that nothing is drawn anew for it. */
export const NO_STEPS: FinishStep[] = [];

/** The steps that the stills of a shot are shown with. */
export function stepsOf({ shots, finishes }: SiteDocument, shotId: string): FinishStep[] {
  const id = shots.find((one) => one.id === shotId)?.finish;
  return finishes.find((one) => one.id === id)?.steps ?? NO_STEPS;
}

/** A still as steps finish it: a picture at hand, or null where there is none yet. */
export function useFinished(still: Still | undefined, steps: FinishStep[]) {
  const wanted = JSON.stringify({ steps });
  const rested = useRested(wanted, RESTS);
  const asked = still && steps.length ? { id: still.id, samples: still.samples } : null;
  const { data, error } = useQuery({
    queryKey: ["finished", asked?.id, asked?.samples, rested],
    enabled: asked !== null,
    // While a value is dragged the last picture stays; another still's never does.
    placeholderData: (before, query) => (query?.queryKey[1] === asked?.id ? before : undefined),
    gcTime: 60_000,
    queryFn: async () => {
      const answer = await fetch(`/api/stills/${asked!.id}/finished?width=${LOOKED_AT}`, {
        method: "POST",
        headers: { "Content-Type": "application/json", ...changeHeaders() },
        body: rested,
      });
      if (!answer.ok) throw await problemOf(answer);
      return answer.blob();
    },
  });
  const [address, setAddress] = useState<string | null>(null);
  useEffect(() => {
    if (!data) return setAddress(null);
    const made = URL.createObjectURL(data);
    setAddress(made);
    return () => URL.revokeObjectURL(made);
  }, [data]);
  return { address: asked ? address : null, error };
}

/** What a finish makes of colours, for a view that is drawn live; nothing where it has no steps. While it is dragged the last stays. */
export function useTones(steps: FinishStep[]): Pack<TonesMeta> | undefined {
  const wanted = useRested(JSON.stringify({ steps }), RESTS);
  const { data } = useQuery({
    queryKey: ["tones", wanted],
    enabled: steps.length > 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 20_000,
    queryFn: async () => {
      const answer = await fetch("/api/tones", {
        method: "POST",
        headers: { "Content-Type": "application/json", ...changeHeaders() },
        body: wanted,
      });
      if (!answer.ok) throw await problemOf(answer);
      return readPack<TonesMeta>(await answer.arrayBuffer());
    },
  });
  return steps.length ? data : undefined;
}

/** A value once it has not changed for some milliseconds. */
function useRested<Value>(value: Value, rests: number): Value {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), rests);
    return () => window.clearTimeout(timer);
  }, [value, rests]);
  return rested;
}

/** Write a finished still to a file, and follow that. */
export function useWriting(still: Still, steps: FinishStep[]) {
  const [format, setFormat] = useState<FileFormat>("png");
  const { start, job } = useStartedJob(() =>
    unwrap(
      client.POST("/api/stills/{still_id}/files", {
        params: { path: { still_id: still.id } },
        body: { format, stack: { steps } },
      }),
    ),
  );
  return { format, setFormat, start, job };
}
