import { useShallow } from "zustand/react/shallow";
import { SeveralBench } from "../bench/SeveralBench";
import { StructureBench } from "../bench/StructureBench";
import { letFall, usualDrop } from "../drop/dropping";
import { removals } from "../place/actions";
import { newStructure } from "../site/layers";
import { pickedObjects, useView } from "../site/store";
import { partColours } from "../theme/theme";
import { ImportDialog } from "../transfer/ImportDialog";
import type { BenchProps, PartModule } from "./part";

function ObjectsBench({ id, document }: BenchProps) {
  const objects = useView(useShallow(pickedObjects));
  if (objects.length > 1) return <SeveralBench ids={objects} />;
  const index = document.structures.findIndex((one) => one.id === id);
  return index < 0 ? null : (
    <StructureBench key={id} structure={document.structures[index]} path={`/structures/${index}`} />
  );
}

export const part: PartModule = {
  part: "structures",
  name: "Structures",
  order: 3,
  tone: partColours.structures,
  list: "structures",
  empty: "Nothing stands here yet. Add with +.",
  cost: (id, document, scene) => {
    if (document.structures.find((one) => one.id === id)?.only_shadow) return "shadow";
    const surface = scene?.surfaces.find((one) => one.id === id);
    return surface ? `${surface.triangles.toLocaleString("en-GB")} tri` : "";
  },
  add: {
    label: "Add a structure",
    entries: ({ siteId, editor, stage, vocabulary, document, add }) => [
      { key: "import", title: "Import a mesh …", dialog: (close) => <ImportDialog onClose={close} /> },
      {
        key: "drop",
        title: "Drop a heap of planks in view",
        act: () => void letFall(siteId, editor, document(), { drop: usualDrop("plank", 12), position: stage.spot() }),
      },
      ...vocabulary.makers.map(({ kind, title }) => ({
        key: kind,
        title,
        act: () => add(newStructure(document(), vocabulary, kind, stage.spot())),
      })),
    ],
  },
  Bench: ObjectsBench,
  // Covers that lie on what goes lose that surface.
  deletion: (document, index) => removals(document, [document.structures[index].id]),
};
