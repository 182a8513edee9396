import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { client, inWords, type Scatter, unwrap } from "../api/client";
import { declaredGroup, defaultsOfGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";
import { Heading } from "./parts";

/** How a kind's colour is shifted to sit with what it stands on; a suggestion is computed from the surfaces' maps. */
export function MatchForm({ layer, path, row }: { layer: Scatter; path: string; row: number }) {
  const { siteId, editor } = useSiteContext();
  const change = useChange();
  const [asking, setAsking] = useState(false);
  const match = layer.mix[row].match;
  const where = `${path}/mix/${row}/match`;
  const suggest = async () => {
    setAsking(true);
    try {
      await editor.idle();
      const value = await unwrap(
        client.POST("/api/sites/{site_id}/scatters/{layer_id}/match", {
          params: { path: { site_id: siteId, layer_id: layer.id } },
          body: { row },
        }),
      );
      change.now(`${layer.name}: match its surroundings`, [{ op: "replace", path: where, value }]);
      useView.getState().set({ showing: "flat" });
    } catch (error) {
      useView.getState().set({ notice: { tone: "error", text: inWords(error) } });
    }
    setAsking(false);
  };
  return (
    <Box role="group" aria-label="Match" sx={{ borderTop: `1px solid ${colours.rule}`, mt: 0.5, pt: 0.5 }}>
      <Heading text="sits with its surroundings" />
      <DeclaredForm
        subject={`${layer.name}: match`}
        path={where}
        declared={declaredGroup("Match")}
        value={match as unknown as Record<string, unknown>}
      />
      <Button disabled={asking} onClick={() => void suggest()}>
        Suggest from the surroundings
      </Button>
      <Button
        color="secondary"
        onClick={() =>
          change.now(`${layer.name}: own colours`, [{ op: "replace", path: where, value: defaultsOfGroup("Match") }])
        }
      >
        Own colours
      </Button>
    </Box>
  );
}
