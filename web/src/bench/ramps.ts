import type { SignalCard } from "../api/client";

/** Points of an SVG polyline that draws a card's ramp as it is evaluated on the server (core/cenote/masks/where.py). */
export function curvePoints(
  card: Pick<SignalCard, "starts_at" | "full_at" | "soft" | "inverted">,
  low: number,
  high: number,
  width: number,
  height: number,
): string {
  const points: string[] = [];
  for (let i = 0; i <= 64; i++) {
    const value = low + ((high - low) * i) / 64;
    const span = card.full_at - card.starts_at;
    let weight = span === 0 ? Number(value >= card.full_at) : Math.min(1, Math.max(0, (value - card.starts_at) / span));
    if (card.soft) weight = weight * weight * (3 - 2 * weight);
    if (card.inverted) weight = 1 - weight;
    points.push(`${((i / 64) * width).toFixed(1)},${((1 - weight) * (height - 2) + 1).toFixed(1)}`);
  }
  return points.join(" ");
}

/** Which end of a ramp a press at a value takes hold of: the nearer one; of two in one place the one that can give way. */
export function nearestHandle(value: number, starts: number, full: number): "starts" | "full" {
  if (starts === full) return value < starts ? "starts" : "full";
  return Math.abs(value - starts) <= Math.abs(value - full) ? "starts" : "full";
}
