import type { Operation, SiteDocument } from "../api/client";

type Where = SiteDocument["weather"][number]["where"];
export type SharedWhere = SiteDocument["wheres"][number];

/** Whether a layer follows a shared mask with any of its own. */
function follows(
  layer: SiteDocument["grass" | "planting" | "weather" | "decals" | "droplets"][number],
  id: string,
): boolean {
  if (layer.where.shared === id) return true;
  if ("tall_where" in layer) return layer.tall_where.shared === id;
  return "mix" in layer && (layer.size_where.shared === id || layer.mix.some((entry) => entry.where.shared === id));
}

/** The layers that follow a shared mask, from the ground upward. */
export function followers(document: SiteDocument, id: string) {
  return {
    grass: document.grass.filter((layer) => follows(layer, id)),
    planting: document.planting.filter((layer) => follows(layer, id)),
    weather: document.weather.filter((layer) => follows(layer, id)),
    decals: document.decals.filter((layer) => follows(layer, id)),
    droplets: document.droplets.filter((layer) => follows(layer, id)),
  };
}

/** Where a mask's cards are edited: its own, or the shared mask's that it follows. */
export function chainOf(document: SiteDocument, where: Where, path: string) {
  const row = where.shared ? document.wheres.findIndex((one) => one.id === where.shared) : -1;
  if (row < 0) return { shared: null, row, cards: where.cards, path: `${path}/cards` };
  const shared = document.wheres[row];
  return { shared, row, cards: shared.cards, path: `/wheres/${row}/cards` };
}

/** Give a mask a name, so that others can follow it. */
export function share(where: Where, path: string, id: string, name: string): Operation[] {
  return [
    { op: "add", path: "/wheres/-", value: { id, name, cards: where.cards } },
    { op: "replace", path, value: { ...where, shared: id } },
  ];
}

/** Follow a shared mask in place of the cards that were here. */
export function follow(shared: SharedWhere, path: string): Operation[] {
  return [{ op: "replace", path, value: { cards: shared.cards, shared: shared.id } }];
}

/** Keep the cards as they are, and go one's own way from here on. */
export function detach(document: SiteDocument, where: Where, path: string): Operation[] {
  return [{ op: "replace", path, value: { cards: chainOf(document, where, path).cards, shared: "" } }];
}
