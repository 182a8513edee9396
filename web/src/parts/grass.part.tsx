import { GrassBench } from "../bench/GrassBench";
import { newGrass } from "../site/layers";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";
import type { Grass, SiteDocument } from "../api/client";
import type { PartModule } from "./part";

/** What new grass grows on: the object that is picked, or the ground. */
function begunOn({ structures }: SiteDocument): string[] {
  const { picked } = useView.getState();
  const chosen = structures.filter(({ id }) => picked?.part === "structures" && picked.id === id);
  return chosen.length ? chosen.map(({ id }) => id) : ["ground"];
}

export const part: PartModule = {
  part: "grass",
  name: "Grass",
  order: 3.5,
  tone: partColours.grass,
  list: "grass",
  empty: "No grass yet. Choose some with +.",
  cost: (id, { grass }) => `${grass.find((one) => one.id === id)!.density.toLocaleString("en-GB")} /m²`,
  add: {
    label: "Add grass",
    entries: ({ vocabulary, document, add }) =>
      vocabulary.grass_presets.map(({ kind, title, layer }) => ({
        key: kind,
        title,
        act: () => add(newGrass(document(), layer as Grass, begunOn(document()))),
      })),
  },
  Bench: ({ id, document, vocabulary }) => {
    const index = document.grass.findIndex((layer) => layer.id === id);
    return index < 0 ? null : (
      <GrassBench key={id} layer={document.grass[index]} path={`/grass/${index}`} vocabulary={vocabulary} />
    );
  },
};
