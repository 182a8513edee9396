import type { SiteDocument } from "../api/client";

type Climate = SiteDocument["climate"];

/** The dials on their way from one state to another: 0 at the first, 1 at the second. */
export function between(from: Climate, to: Climate, share: number): Climate {
  const at = (name: keyof Climate) => Number((from[name] + (to[name] - from[name]) * share).toFixed(4));
  return { years: Math.round(at("years")), damp: at("damp"), snow: at("snow"), season: at("season") };
}

/** The kept state that the dials stand at; empty where they stand elsewhere. */
export function stateOf({ climate, states }: Pick<SiteDocument, "climate" | "states">): string {
  const same = (one: Climate) =>
    Object.keys(one).every((name) => one[name as keyof Climate] === climate[name as keyof Climate]);
  return states.find((state) => same(state.climate))?.id ?? "";
}
