import { ZoneBench } from "../bench/ZoneBench";
import { newZone } from "../site/layers";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "zones",
  name: "Zones",
  order: 2,
  tone: partColours.zones,
  list: "zones",
  empty: "No zones. Masks and layers can keep to one.",
  cost: (id, { zones }) => {
    const zone = zones.find((one) => one.id === id)!;
    return zone.shape === "circle" ? `${zone.radius.toLocaleString("en-GB")} m` : `${zone.outline.length} corners`;
  },
  add: {
    label: "Add a zone",
    entries: ({ stage, document, add }) => [
      { key: "round", title: "A round zone in view", act: () => add(newZone(document(), stage.spot())) },
    ],
  },
  Bench: ({ id, document }) => {
    const index = document.zones.findIndex((zone) => zone.id === id);
    return index < 0 ? null : <ZoneBench key={id} index={index} />;
  },
};
