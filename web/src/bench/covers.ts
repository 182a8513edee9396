import type { CoverLayer, Operation, SiteDocument, Vocabulary } from "../api/client";
import { freshId, freshName } from "../site/layers";
import { defaultsOf } from "../api/declared";

const names = (document: SiteDocument) => document.weather.map((layer) => layer.name);

/** Another cover in place of one, on all its surfaces: with the mask that the new one usually has. */
export function swapped(document: SiteDocument, vocabulary: Vocabulary, row: number, kind: string): Operation[] {
  const layer = document.weather[row];
  const [was, is] = [layer.cover.kind, kind].map((one) => vocabulary.covers.find((cover) => cover.kind === one)!);
  const value: CoverLayer = {
    ...layer,
    // A name that somebody has given stays.
    name: layer.name.startsWith(was.title) ? freshName(is.title, names(document)) : layer.name,
    cover: defaultsOf(kind) as CoverLayer["cover"],
    where: { ...(is.where as CoverLayer["where"]), shared: "" },
  };
  return [{ op: "replace", path: `/weather/${row}`, value }];
}

/** A copy of a recipe for one surface alone, right above the shared one, which leaves that surface. */
export function detached(document: SiteDocument, row: number, surface: string, surfaceName: string): Operation[] {
  const layer = document.weather[row];
  const { [surface]: strength, ...strengths } = layer.strengths;
  const own: CoverLayer = {
    ...layer,
    id: freshId(layer.cover.kind),
    name: freshName(`${layer.name} on ${surfaceName}`.slice(0, 76), names(document)),
    surfaces: [surface],
    strengths: strength === undefined ? {} : { [surface]: strength },
  };
  const left = layer.surfaces.filter((one) => one !== surface);
  return [
    { op: "replace", path: `/weather/${row}`, value: { ...layer, surfaces: left, strengths } },
    { op: "add", path: `/weather/${row + 1}`, value: own },
  ];
}

/** How strongly a recipe is wanted on one surface; 1 is as on all others and is not kept. */
export function strengthOn(layer: CoverLayer, path: string, surface: string, strength: number): Operation[] {
  const value = { ...layer.strengths, [surface]: strength };
  if (strength === 1) delete value[surface];
  return [{ op: "replace", path: `${path}/strengths`, value }];
}
