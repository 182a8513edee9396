import openapi from "../../../server/schema/openapi.json";

/** How a parameter was declared in the core: the same declaration that the server checks by. */
export interface Declared {
  type?: string;
  title?: string;
  /** What people call it, where that is more than its name. */
  label?: string;
  description?: string;
  default?: unknown;
  minimum?: number;
  maximum?: number;
  unit?: string;
  step?: number;
  least?: number;
  most?: number;
  names?: string[];
  ordered?: boolean;
  picks?:
    | "kit"
    | "material"
    | "objects"
    | "surface"
    | "surfaces"
    | "zones"
    | "planting"
    | "covers"
    | "shots"
    | "states"
    | "parts";
  enum?: string[];
  colour?: boolean;
  $ref?: string;
  /** What of it is drawn in the view, and what else is set by that. */
  draws?: "path" | "outline" | "place" | "line" | "strokes";
  sets?: Record<string, string>;
  /** The values of others that it counts with, or lists of them; with all where there are none. */
  counts_with?: Record<string, unknown>;
  text?: boolean;
  maxLength?: number;
  items?: { $ref?: string };
  minItems?: number;
  maxItems?: number;
  prefixItems?: unknown[];
}

interface DeclaredGroup {
  properties: Record<string, Declared>;
}

const groups = openapi.components.schemas as unknown as Record<string, DeclaredGroup>;
const kinds = new Map<string, DeclaredGroup>();
for (const group of Object.values(groups)) {
  const kind = (group.properties?.kind as { const?: string } | undefined)?.const;
  if (kind) kinds.set(kind, group);
}

// The same object each time, so that forms which nothing has changed need not be drawn anew.
const withoutKind = new Map<string, Record<string, Declared>>();

/** The parameters of a group by its name, for instance `Climate`. */
export function declaredGroup(name: string): Record<string, Declared> {
  return groups[name].properties;
}

/** The name of the group that a list is of; undefined for all that is no such list. */
export function groupOfItems(entry: Declared): string | undefined {
  return entry.type === "array" ? entry.items?.$ref?.split("/").pop() : undefined;
}

/** The parameters of a signal, cover or structure by its kind; without the kind itself. */
export function declaredKind(kind: string): Record<string, Declared> {
  const known = withoutKind.get(kind);
  if (known) return known;
  const made = Object.fromEntries(
    Object.entries(kinds.get(kind)?.properties ?? {}).filter(([name]) => name !== "kind"),
  );
  withoutKind.set(kind, made);
  return made;
}

/** The values that something of a kind begins with. */
export function defaultsOf(kind: string): Record<string, unknown> {
  return {
    kind,
    ...Object.fromEntries(Object.entries(declaredKind(kind)).map(([name, entry]) => [name, entry.default])),
  };
}

/** The values that a declared group begins with, by its name, for instance `Row`. */
export function defaultsOfGroup(name: string): Record<string, unknown> {
  const declared = Object.entries(declaredGroup(name)).filter(([, entry]) => entry.default !== undefined);
  return structuredClone(Object.fromEntries(declared.map(([one, entry]) => [one, entry.default])));
}

/** A parameter's name for people: `wall_height` becomes `Wall height`. */
export function readable(name: string): string {
  const words = name.replaceAll("_", " ");
  return words[0].toUpperCase() + words.slice(1);
}

/** What a parameter is called by people. */
export const labelOf = (name: string, declared: Declared): string => declared.label ?? readable(name);

/** A number as it is typed: no more digits than its step needs, and nothing between its thousands. */
export function plain(value: number, step = 0.01): string {
  return shown(value, step).replaceAll(",", "");
}

/** What somebody typed as a number, with a comma or a point, with or without marks between thousands; NaN for none. */
export function typed(text: string): number {
  const bare = text.replace(/[\s\u00a0\u202f']/g, "");
  if (!bare) return NaN;
  if (/^[-+]?\d{1,3}(,\d{3})+(\.\d*)?$/.test(bare)) return Number(bare.replaceAll(",", ""));
  return Number(bare.replace(",", "."));
}

/** A number as people read it: no more digits than its step needs. */
export function shown(value: number, step = 0.01): string {
  const digits = Math.min(4, Math.max(0, Math.ceil(-Math.log10(step) - 1e-9)));
  return Number(value.toFixed(digits)).toLocaleString("en-GB", { maximumFractionDigits: digits });
}
