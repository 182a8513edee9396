import type { ReactNode } from "react";
import { useShallow } from "zustand/react/shallow";
import { useVocabulary } from "../api/queries";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { KeepFocus } from "../forms/KeepFocus";
import { useDocument } from "../site/context";
import { pickedObjects, useView } from "../site/store";
import { colours, partColours } from "../theme/theme";
import { CoverBench } from "./CoverBench";
import { Overview } from "./Overview";
import { GroundBench } from "./GroundBench";
import { Section } from "./parts";
import { ScatterBench } from "./ScatterBench";
import { SeveralBench } from "./SeveralBench";
import { ShotBench } from "./ShotBench";
import { StructureBench } from "./StructureBench";
import { WindForm } from "./WindForm";
import { ZoneBench } from "./ZoneBench";

/** What the picked layer is, read from left to right: what – where – how much. */
export function Bench() {
  const picked = useView((state) => state.picked);
  const objects = useView(useShallow(pickedObjects));
  const document = useDocument();
  const vocabulary = useVocabulary().data;
  let content: ReactNode = null;
  if (vocabulary && picked) {
    const { part, id } = picked;
    if (part === "planting") {
      const index = document.planting.findIndex((layer) => layer.id === id);
      if (index >= 0)
        content = (
          <ScatterBench key={id} layer={document.planting[index]} path={`/planting/${index}`} vocabulary={vocabulary} />
        );
    } else if (part === "weather") {
      const index = document.weather.findIndex((layer) => layer.id === id);
      if (index >= 0)
        content = (
          <CoverBench key={id} layer={document.weather[index]} path={`/weather/${index}`} vocabulary={vocabulary} />
        );
    } else if (part === "structures" && objects.length > 1) {
      content = <SeveralBench ids={objects} />;
    } else if (part === "structures") {
      const index = document.structures.findIndex((one) => one.id === id);
      if (index >= 0)
        content = <StructureBench key={id} structure={document.structures[index]} path={`/structures/${index}`} />;
    } else if (part === "shots") {
      const index = document.shots.findIndex((one) => one.id === id);
      if (index >= 0) content = <ShotBench index={index} />;
    } else if (part === "zones") {
      const index = document.zones.findIndex((zone) => zone.id === id);
      if (index >= 0) content = <ZoneBench key={id} index={index} />;
    } else if (part === "ground") {
      content = <GroundBench ground={document.ground} />;
    } else {
      const group = { water: "Water", light: "Light" }[part];
      content = (
        <>
          <Section title={group} tone={partColours[part]} wide>
            <DeclaredForm
              subject={group}
              path={`/${part}`}
              declared={declaredGroup(group)}
              value={document[part] as Record<string, unknown>}
              without={["shown"]}
              columns={part === "water" ? 2 : 4}
            />
          </Section>
          {part === "water" && <WindForm />}
        </>
      );
    }
  }
  return (
    <KeepFocus
      component="section"
      aria-label="Bench"
      sx={{
        gridColumn: "1 / -1",
        borderTop: `1px solid ${colours.ink}`,
        background: colours.limestone,
        display: "flex",
        minWidth: 0,
        overflowX: "auto",
        overflowY: "hidden",
      }}
    >
      {content ?? <Overview />}
    </KeepFocus>
  );
}
