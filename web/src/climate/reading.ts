import { shown } from "../api/declared";

/** Where each season begins on its dial: `kit/seasons.py` runs from early spring over midsummer and autumn to winter. */
const SEASONS: [number, string][] = [
  [0.85, "winter"],
  [0.55, "autumn"],
  [0.25, "summer"],
  [0, "spring"],
];

/** What a dial of the climate stands at, as people say it. */
export function reading(name: string, value: number, step: number): string {
  switch (name) {
    case "years":
      return `${shown(value, step)} ${value === 1 ? "year" : "years"}`;
    case "damp":
      return `${Math.round(value * 100)} %`;
    case "snow":
      return value < 1 ? `${shown(value * 100, step * 100)} cm` : `${shown(value, step)} m`;
    case "season":
      return SEASONS.find(([from]) => value >= from)?.[1] ?? "spring";
    default:
      return shown(value, step);
  }
}
