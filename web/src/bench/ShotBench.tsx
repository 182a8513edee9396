import Button from "@mui/material/Button";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useDocument, useSiteContext } from "../site/context";
import { partColours } from "../theme/theme";
import { NameField } from "../forms/NameField";
import { FinishSection } from "./FinishSection";
import { MotionSection } from "./MotionSection";
import { Section } from "./parts";

/** A shot: its name and lens. */
export function ShotBench({ index }: { index: number }) {
  const document = useDocument();
  const { editor, stage } = useSiteContext();
  const shot = document.shots[index];
  const path = `/shots/${index}`;
  return (
    <>
      <Section title={<NameField name={shot.name} path={path} />} tone={partColours.shots}>
        <DeclaredForm
          subject={shot.name}
          path={path}
          declared={declaredGroup("Shot")}
          value={shot as unknown as Record<string, unknown>}
          without={["position", "target", "finish", "motion"]}
          columns={2}
        />
        <Button
          onClick={() =>
            editor.commit(`${shot.name}: take this view`, [
              // What is in focus stays so.
              { op: "replace", path, value: { ...shot, ...stage.shot(), focus: shot.focus } },
            ])
          }
        >
          Take the view as it is now
        </Button>
      </Section>
      <FinishSection index={index} />
      <MotionSection key={shot.id} index={index} />
    </>
  );
}
