import Box from "@mui/material/Box";
import { declaredGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useDocument } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { useTriangles } from "./counts";
import { Note } from "./parts";

/** What the site comes to in triangles against its budget; one layer's share stands out where it is named. */
export function BudgetBar({ layer, editable = false }: { layer?: string; editable?: boolean }) {
  const { budget } = useDocument();
  const { structures, planting } = useTriangles();
  const grown = Object.values(planting).reduce((sum, one) => sum + one, 0);
  const all = structures + grown;
  const most = budget.triangles * 1e6;
  const own = layer ? (planting[layer] ?? 0) : 0;
  const width = (triangles: number) => `${(100 * triangles) / Math.max(all, most, 1)}%`;
  const words = `${(all / 1e6).toFixed(2)} of ${budget.triangles} million triangles${
    all > most ? `: ${((all - most) / 1e6).toFixed(2)} million over budget` : ""
  }`;
  return (
    <Box sx={{ my: 0.5 }}>
      <Box
        role="meter"
        aria-label="Triangles against the budget"
        aria-valuemin={0}
        aria-valuemax={most}
        aria-valuenow={all}
        aria-valuetext={words}
        sx={{ display: "flex", height: 8, background: colours.rule, position: "relative" }}
      >
        <Box sx={{ width: width(structures), background: partColours.structures }} />
        <Box sx={{ width: width(grown - own), background: partColours.planting, opacity: layer ? 0.45 : 1 }} />
        <Box sx={{ width: width(own), background: partColours.planting }} />
        {all > most && (
          <Box
            sx={{ position: "absolute", left: width(most), top: -2, bottom: -2, width: 2, background: colours.oxide }}
          />
        )}
      </Box>
      <Note lines={2} warns={all > most}>
        {words}
      </Note>
      {editable && (
        <DeclaredForm
          subject="Budget"
          path="/budget"
          declared={declaredGroup("Budget")}
          value={budget as unknown as Record<string, unknown>}
        />
      )}
    </Box>
  );
}
