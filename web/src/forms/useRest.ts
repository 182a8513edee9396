import { useEffect, useRef } from "react";

/** Milliseconds after the last press of an arrow or turn of the wheel at which a value is there to stay. */
export const RESTS = 400;

/**
 * Several small steps in a row as one: `later` is told of each, and `onSettle` is called once there were none for a while, or at once
 * by `now`, or as what is stepped goes away.
 */
export function useRest(onSettle: () => void) {
  const timer = useRef<number>(undefined);
  const latest = useRef(onSettle);
  latest.current = onSettle;
  const rest = useRef({
    later() {
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(rest.now, RESTS);
    },
    now() {
      if (timer.current === undefined) return;
      window.clearTimeout(timer.current);
      timer.current = undefined;
      latest.current();
    },
    /** Somebody else has settled it. */
    done() {
      window.clearTimeout(timer.current);
      timer.current = undefined;
    },
  }).current;
  useEffect(() => rest.now, [rest]);
  return rest;
}
