import type { SiteDocument } from "../api/client";
import type { Declared } from "../api/declared";

/** What tells a signal's card from others of its kind, in a few words: what it was told to look at, and its look. */
export function told(
  signal: Record<string, unknown>,
  declared: Record<string, Declared>,
  document: SiteDocument,
): string {
  const known = [...document.structures, ...document.zones, ...document.planting, { id: "ground", name: "Ground" }];
  const out: string[] = [];
  for (const [name, entry] of Object.entries(declared)) {
    const value = signal[name];
    if (entry.picks && Array.isArray(value) && value.length) {
      const names = (value as string[]).map((id) => known.find((one) => one.id === id)?.name ?? id);
      out.push(names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(", "));
    } else if (entry.enum && value !== entry.default) out.push(String(value));
    else if (entry.type === "boolean" && value === true) out.push(name.replaceAll("_", " "));
  }
  return out.join(" · ");
}
