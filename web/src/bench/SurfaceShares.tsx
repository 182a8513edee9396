import CallSplitIcon from "@mui/icons-material/CallSplit";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Popover from "@mui/material/Popover";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { CoverLayer } from "../api/client";
import { KeepFocus } from "../forms/KeepFocus";
import { NumberField } from "../forms/NumberField";
import { useChange, useDocument } from "../site/context";
import { colours } from "../theme/theme";
import { detached, strengthOn } from "./covers";

interface Props {
  layer: CoverLayer;
  path: string;
  surfaces: { id: string; name: string }[];
}

/** For each surface that shares a recipe how strongly, and a way to give it a recipe of its own. */
export function SurfaceShares({ layer, path, surfaces }: Props) {
  const document = useDocument();
  const change = useChange();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const row = document.weather.findIndex((one) => one.id === layer.id);
  const own = Object.keys(layer.strengths).length;
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)} disabled={!layer.surfaces.length}>
        {own ? `Own strength on ${own}` : "Strength by surface"}
      </Button>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <KeepFocus sx={{ p: 1.5, width: 300, maxHeight: 420, overflowY: "auto" }} role="group" aria-label="Strengths">
          <Typography variant="caption" component="p" sx={{ m: 0, mb: 1, color: colours.faint }}>
            A factor on the shared recipe’s amount. The fork gives a surface a recipe of its own: later changes to the
            shared one stay away from it.
          </Typography>
          {surfaces
            .filter((one) => layer.surfaces.includes(one.id))
            .map(({ id, name }) => (
              <Box key={id} sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
                <Box sx={{ flex: 1 }}>
                  <NumberField
                    label={name}
                    value={layer.strengths[id] ?? 1}
                    low={0}
                    high={3}
                    step={0.05}
                    unit="×"
                    usual={1}
                    onLive={(value) =>
                      change.live(`${layer.name}: strength on ${name}`, strengthOn(layer, path, id, value))
                    }
                    onSettle={change.settle}
                  />
                </Box>
                <Tooltip title={`Detach here: a recipe of its own for ${name}`}>
                  <IconButton
                    aria-label={`Detach for ${name}`}
                    onClick={() => change.now(`${layer.name}: detach for ${name}`, detached(document, row, id, name))}
                  >
                    <CallSplitIcon sx={{ fontSize: 16 }} />
                  </IconButton>
                </Tooltip>
              </Box>
            ))}
        </KeepFocus>
      </Popover>
    </>
  );
}
