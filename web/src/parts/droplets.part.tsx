import { DropletBench } from "../bench/DropletBench";
import { newDroplets } from "../site/layers";
import { useView } from "../site/store";
import { partColours } from "../theme/theme";
import type { DropletLayer, SiteDocument } from "../api/client";
import { defaultsOf } from "../api/declared";
import type { PartModule } from "./part";

/** What new drops lie on: the object that is picked, or all of them. */
function begunOn({ structures }: SiteDocument): string[] {
  const { picked, alsoPicked } = useView.getState();
  const chosen = picked?.part === "structures" && picked.id ? [picked.id, ...alsoPicked] : [];
  return chosen.length ? chosen : structures.map(({ id }) => id);
}

export const part: PartModule = {
  part: "droplets",
  name: "Droplets",
  order: 6.5,
  tone: partColours.droplets,
  list: "droplets",
  empty: "All dry. Choose drops with +.",
  cost: (id, _, scene) => {
    const entries = scene?.droplets.filter(({ layer }) => layer === id) ?? [];
    // A layer that the scene does not tell of yet, or that is hidden.
    if (!entries.length) return "";
    const drops = entries.reduce((sum, one) => sum + one.expected, 0);
    return drops ? `≤ ${drops.toLocaleString("en-GB")} drops` : "none here";
  },
  add: {
    label: "Add drops",
    entries: ({ vocabulary, document, editor }) => {
      const act = (title: string, begun: Partial<DropletLayer>[]) => () => {
        const there = document();
        const made: DropletLayer[] = [];
        for (const one of begun)
          made.push(newDroplets({ ...there, droplets: [...there.droplets, ...made] }, one, begunOn(there)));
        editor.commit(
          `Add ${title.toLowerCase()}`,
          made.map((value) => ({ op: "add", path: "/droplets/-", value })),
        );
        useView.getState().pick({ part: "droplets", id: made[0].id });
      };
      return [
        ...vocabulary.droplet_presets.map(({ kind, title, layers }) => ({
          key: kind,
          title,
          act: act(title, layers as Partial<DropletLayer>[]),
        })),
        ...vocabulary.droplets.map(({ kind, title }) => ({
          key: kind,
          title: `${title} alone`,
          act: act(title, [{ name: title, droplets: defaultsOf(kind) as unknown as DropletLayer["droplets"] }]),
        })),
      ];
    },
  },
  Bench: ({ id, document, vocabulary }) => {
    const index = document.droplets.findIndex((one) => one.id === id);
    return index < 0 ? null : (
      <DropletBench key={id} layer={document.droplets[index]} path={`/droplets/${index}`} vocabulary={vocabulary} />
    );
  },
};
