import type { PlacedDecal, SceneManifest, SiteDocument } from "../api/client";
import { DecalBench } from "../bench/DecalBench";
import { surfacesNear } from "../site/decalBox";
import { followers } from "../site/sharedMasks";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

/** The surfaces that a decal may lie on. */
const surfacesOf = (decal: PlacedDecal, { structures }: SiteDocument, scene: SceneManifest): string[] =>
  decal.spread.on ? decal.spread.surfaces : surfacesNear(decal, structures, scene);
const on = (decals: PlacedDecal[], document: SiteDocument, scene: SceneManifest) =>
  decals.flatMap((decal) => surfacesOf(decal, document, scene));

export const part: PartModule = {
  part: "decals",
  name: "Decals",
  order: 6,
  tone: partColours.decals,
  list: "decals",
  empty: "No decals. Choose one with +, then press where it goes.",
  cost: (id, { decals, structures }) => {
    const { object, spread } = decals.find((one) => one.id === id)!;
    if (spread.on) return `${spread.density.toLocaleString("en-GB")} /m²`;
    return object ? (structures.find((one) => one.id === object)?.name ?? "object is gone") : "";
  },
  add: {
    label: "Add a decal",
    entries: ({ vocabulary }) =>
      vocabulary.decals.map(({ kind, title }) => ({
        key: kind,
        title: `${title}: press where it goes`,
        act: () => useView.getState().take({ what: "decal", kind }),
      })),
  },
  affects: {
    decals: ({ steps: [row] }, document, scene) => {
      const decal = document.decals[Number(row)];
      return decal ? { surfaces: surfacesOf(decal, document, scene) } : {};
    },
    // Years take away those that do not last.
    climate: ({ steps: [dial] }, document, scene) =>
      dial && dial !== "years"
        ? {}
        : {
            surfaces: on(
              document.decals.filter(({ lasts }) => lasts > 0),
              document,
              scene,
            ),
          },
    wheres: ({ steps: [row] }, document, scene) => {
      const shared = document.wheres[Number(row)];
      return shared ? { surfaces: on(followers(document, shared.id).decals, document, scene) } : {};
    },
  },
  Bench: ({ id, document, vocabulary }) => {
    const index = document.decals.findIndex((one) => one.id === id);
    return index < 0 ? null : (
      <DecalBench key={id} layer={document.decals[index]} path={`/decals/${index}`} vocabulary={vocabulary} />
    );
  },
};
