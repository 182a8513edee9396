import { FormBench } from "../bench/FormBench";
import { WindForm } from "../bench/WindForm";
import { partColours } from "../theme/theme";
import type { PartModule } from "./part";

export const part: PartModule = {
  part: "water",
  name: "Water & air",
  order: 7,
  tone: partColours.water,
  hides: true,
  affects: { wind: () => ({ alive: true }) },
  Bench: ({ document }) => (
    <>
      <FormBench group="Water" path="/water" value={document.water} tone={partColours.water} columns={2} />
      <FormBench group="Air" path="/air" value={document.air} tone={partColours.water} columns={3} />
      <WindForm />
    </>
  ),
};
