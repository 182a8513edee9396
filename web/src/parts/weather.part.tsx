import { CoverBench } from "../bench/CoverBench";
import { LibraryDialog } from "../library/LibraryDialog";
import { newCover } from "../site/layers";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "weather",
  name: "Weather",
  order: 5,
  tone: partColours.weather,
  list: "weather",
  empty: "All clean and new. Add moss with +.",
  cost: (id, { weather }) => `shared by ${weather.find((one) => one.id === id)!.surfaces.length}`,
  add: {
    label: "Add a cover",
    entries: ({ vocabulary, document, add }) => [
      {
        key: "library",
        title: "From the library …",
        dialog: (close) => <LibraryDialog vocabulary={vocabulary} onClose={close} />,
      },
      ...vocabulary.covers.map(({ kind, title }) => ({
        key: kind,
        title: `${title} on all structures`,
        act: () => {
          const surfaces = document().structures.map((one) => one.id);
          add(newCover(document(), vocabulary, kind, surfaces));
        },
      })),
    ],
  },
  affects: {
    weather: ({ steps: [row] }, { weather }, { blankets }) => {
      const layer = weather[Number(row)];
      return { surfaces: layer?.surfaces, blankets: blankets.some((one) => one.layer === layer?.id) };
    },
    // What wets comes with the rain.
    air: ({ steps: [field] }, { weather }) =>
      !field || field === "rain" ? { surfaces: weather.flatMap((layer) => layer.surfaces) } : {},
    // All covers answer to the dials; a season also turns leaves and lets them fall.
    climate: ({ steps: [dial] }, { weather, planting }, { items }) => {
      const litter = items.filter((item) => item.litter).map((item) => item.kind);
      const falls = planting.filter((layer) => layer.mix.some((entry) => litter.includes(entry.item)));
      return {
        surfaces: weather.flatMap((layer) => layer.surfaces),
        scatters: !dial || dial === "season" ? falls.map((layer) => layer.id) : [],
        blankets: !dial || dial === "snow",
        alive: true,
      };
    },
  },
  Bench: ({ id, document, vocabulary }) => {
    const index = document.weather.findIndex((layer) => layer.id === id);
    return index < 0 ? null : (
      <CoverBench key={id} layer={document.weather[index]} path={`/weather/${index}`} vocabulary={vocabulary} />
    );
  },
};
