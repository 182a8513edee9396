import type { Schemas, SiteDocument, Vocabulary } from "../api/client";
import { defaultsOf, defaultsOfGroup } from "../api/declared";

export type OwnMaterial = Schemas["OwnMaterial"];
export type Recipe = Schemas["OwnRecipe"];
export type Layer = Recipe["layers"][number];
export type PatternLayer = Schemas["PatternLayer"];
export type Drawn = Schemas["Drawn"];

/** A material as the bench lists it. */
export interface Entry {
  kind: string;
  title: string;
  group: string;
  help: string;
  own: boolean;
  /** What it is to the weather. */
  nature: OwnMaterial["nature"];
  /** None where the material is a texture set from files. */
  recipe: Recipe | null;
}

export const OWN_GROUP = "This site's own";

/** All materials that a site can use, its own first. */
export function entriesOf(document: SiteDocument, vocabulary: Vocabulary): Entry[] {
  const own = document.materials.map((one) => ({
    kind: one.id,
    title: one.name,
    group: OWN_GROUP,
    help:
      one.source.kind === "texture_set" ? `From ${one.source.file_names.join(", ")}` : "A recipe of this site's own.",
    own: true,
    nature: one.nature,
    recipe: one.source.kind === "recipe" ? (one.source as Recipe) : null,
  }));
  const shipped = vocabulary.materials.map(({ kind, title, group, help, nature, recipe }) => ({
    kind,
    title,
    group,
    help,
    own: false,
    nature,
    recipe: { ...recipe, kind: "recipe" as const } as Recipe,
  }));
  return [...own, ...shipped];
}

/** What is found by a few letters, by group. */
export function grouped(entries: Entry[], search: string): [string, Entry[]][] {
  const letters = search.trim().toLowerCase();
  const out = new Map<string, Entry[]>();
  for (const entry of entries) {
    if (letters && !`${entry.title} ${entry.group}`.toLowerCase().includes(letters)) continue;
    out.set(entry.group, [...(out.get(entry.group) ?? []), entry]);
  }
  return [...out];
}

/** A name that no material of the site has yet. */
export function freshMaterialName(name: string, document: SiteDocument): string {
  const taken = new Set(document.materials.map((one) => one.name));
  let wanted = name;
  for (let number = 2; taken.has(wanted); number++) wanted = `${name} ${number}`;
  return wanted;
}

/** An own material made from a recipe. */
export function ownFrom(entry: Entry, document: SiteDocument, seed?: number): OwnMaterial {
  const recipe = structuredClone(entry.recipe!);
  return {
    id: `own-${Date.now().toString(36)}`,
    name: freshMaterialName(entry.own ? `${entry.title} copy` : `${entry.title}, own`, document),
    nature: entry.nature,
    source: seed === undefined ? recipe : { ...recipe, seed },
  };
}

/** A pattern with its usual values. */
export const newDrawn = (kind = "clouds"): Drawn => ({
  ...(defaultsOfGroup("Drawn") as unknown as Drawn),
  pattern: defaultsOf(kind) as Drawn["pattern"],
});

/** A new layer on top: a grade, or a pattern as the core has it begin. */
export function newLayer(starter: PatternLayer, kind: "pattern" | "grade", pattern = "clouds"): Layer {
  if (kind === "grade") return { ...defaultsOfGroup("GradeLayer"), kind, mask: null } as unknown as Layer;
  return { ...structuredClone(starter), drawn: newDrawn(pattern) } as Layer;
}

/** Which variants to compare: the recipe's own, and some others. */
export function variantSeeds(seed: number): number[] {
  return [seed, ...[1, 2, 3].map((step) => (seed + step * 17) % 10_000)];
}
