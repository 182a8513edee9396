import { ScatterBench } from "../bench/ScatterBench";
import { newScatter } from "../site/layers";
import { followers } from "../site/sharedMasks";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "planting",
  name: "Planting",
  order: 4,
  tone: partColours.planting,
  list: "planting",
  empty: "Nothing grows here yet. Add with +.",
  cost: (id, { planting }) => `${planting.find((one) => one.id === id)!.density.toLocaleString("en-GB")} /m²`,
  add: {
    label: "Add a scatter",
    entries: ({ vocabulary, document, add }) =>
      [{ id: "ground", name: "Ground" }, ...document().structures].map(({ id, name }) => ({
        key: id,
        title: `Scatter over ${name}`,
        act: () => add(newScatter(document(), vocabulary, id)),
      })),
  },
  affects: {
    planting: ({ steps: [row] }, { planting }) => ({
      scatters: planting[Number(row)] ? [planting[Number(row)].id] : [],
    }),
    wheres: ({ steps: [row] }, document) => {
      const shared = document.wheres[Number(row)];
      if (!shared) return {};
      const { planting, weather } = followers(document, shared.id);
      return { scatters: planting.map(({ id }) => id), surfaces: weather.flatMap(({ surfaces }) => surfaces) };
    },
  },
  Bench: ({ id, document, vocabulary }) => {
    const index = document.planting.findIndex((layer) => layer.id === id);
    return index < 0 ? null : (
      <ScatterBench key={id} layer={document.planting[index]} path={`/planting/${index}`} vocabulary={vocabulary} />
    );
  },
};
