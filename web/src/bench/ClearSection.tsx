import AddIcon from "@mui/icons-material/Add";
import CloseIcon from "@mui/icons-material/Close";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import type { Scatter } from "../api/client";
import { freshId } from "../site/layers";
import { declaredGroup, defaultsOfGroup } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange } from "../site/context";
import { colours, partColours } from "../theme/theme";
import { Heading, Section } from "./parts";

/** What a scatter can keep clear of: the declared group of each, and its name. */
const KINDS = {
  objects: { group: "ClearOfObjects", name: "Objects" },
  zones: { group: "ClearOfZones", name: "Zones" },
  planting: { group: "ClearOfPlanting", name: "Planting below" },
  shot: { group: "ClearOfShot", name: "The lens of a shot" },
} as const;

/** What a scatter keeps clear of, each with its distance and the band in which number and size fade. */
export function ClearSection({ layer, path }: { layer: Pick<Scatter, "name" | "keep_clear">; path: string }) {
  const change = useChange();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const add = (of: keyof typeof KINDS) => {
    const value = { ...defaultsOfGroup(KINDS[of].group), of, id: freshId("clear") };
    change.now(`${layer.name}: keep clear of ${KINDS[of].name.toLowerCase()}`, [
      { op: "add", path: `${path}/keep_clear/-`, value },
    ]);
    setAnchor(null);
  };
  return (
    <Section title="keeps clear of" tone={partColours.structures}>
      <Box sx={{ width: 184 }} role="group" aria-label="Keep clear">
        {layer.keep_clear.map((clear, row) => (
          <Box key={clear.id} sx={{ borderBottom: `1px solid ${colours.rule}`, pb: 0.5, mb: 0.5 }}>
            <Box sx={{ display: "flex", alignItems: "center" }}>
              <Box sx={{ flex: 1 }}>
                <Heading text={KINDS[clear.of].name} />
              </Box>
              <IconButton
                aria-label={`No longer keep clear of ${KINDS[clear.of].name.toLowerCase()}`}
                onClick={() =>
                  change.now(`${layer.name}: no clearance`, [{ op: "remove", path: `${path}/keep_clear/${row}` }])
                }
                sx={{ p: 0.25 }}
              >
                <CloseIcon sx={{ fontSize: 15 }} />
              </IconButton>
            </Box>
            <DeclaredForm
              subject={`${layer.name}: clearance`}
              path={`${path}/keep_clear/${row}`}
              declared={declaredGroup(KINDS[clear.of].group)}
              value={clear as unknown as Record<string, unknown>}
              without={["id", "of"]}
            />
          </Box>
        ))}
        <Button startIcon={<AddIcon />} onClick={(event) => setAnchor(event.currentTarget)}>
          Keep clear of
        </Button>
        <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
          {Object.entries(KINDS).map(([of, { name }]) => (
            <MenuItem key={of} dense onClick={() => add(of as keyof typeof KINDS)}>
              {name}
            </MenuItem>
          ))}
        </Menu>
      </Box>
    </Section>
  );
}
