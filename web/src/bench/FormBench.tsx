import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { Section } from "./parts";

interface Props {
  /** The declared group. */
  group: string;
  path: string;
  value: object;
  tone: string;
  columns: number;
}

/** A bench that is the form of one declared group. */
export function FormBench({ group, path, value, tone, columns }: Props) {
  return (
    <Section title={group} tone={tone} wide>
      <DeclaredForm
        subject={group}
        path={path}
        declared={declaredGroup(group)}
        value={value as Record<string, unknown>}
        without={["shown"]}
        columns={columns}
      />
    </Section>
  );
}
