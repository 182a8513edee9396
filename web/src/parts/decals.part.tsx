import { DecalBench } from "../bench/DecalBench";
import { surfacesNear } from "../decals/box";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

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
    decals: ({ steps: [row] }, { decals, structures }, scene) => {
      const decal = decals[Number(row)];
      if (!decal) return {};
      return { surfaces: decal.spread.on ? decal.spread.surfaces : surfacesNear(decal, structures, scene) };
    },
  },
  Bench: ({ id, document, vocabulary }) => {
    const index = document.decals.findIndex((one) => one.id === id);
    return index < 0 ? null : (
      <DecalBench key={id} layer={document.decals[index]} path={`/decals/${index}`} vocabulary={vocabulary} />
    );
  },
};
