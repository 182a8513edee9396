import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Popover from "@mui/material/Popover";
import { useState } from "react";
import type { Structure, SurfaceEntry } from "../api/client";
import { declaredGroup, readable } from "../api/declared";
import { DeclaredForm, PickField } from "../forms/DeclaredForm";
import { useChange } from "../site/context";
import { Heading } from "./parts";

interface PartsProps {
  structure: Structure;
  path: string;
  surface: SurfaceEntry;
}

/** What each part of an object is made of, and how its colour is graded. */
export function PartsOf({ structure, path, surface }: PartsProps) {
  const { parts, materials, wrapped, grades } = surface;
  const change = useChange();
  const [open, setOpen] = useState<{ anchor: HTMLElement; part: string } | null>(null);
  const declared = declaredGroup("PartGrade");
  // A part's name may hold what JSON pointers reserve.
  const pointer = (part: string) => part.replaceAll("~", "~0").replaceAll("/", "~1");
  const textured = structure.source.kind === "imported" && structure.source.textures !== "";
  const grade = open && (structure.grades[open.part] as Record<string, unknown> | undefined);
  return (
    <Box sx={{ mt: 1, display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(210px, 1fr))", columnGap: 2 }}>
      {parts.map((part, row) => (
        <Box key={part} sx={{ display: "flex", alignItems: "end", gap: 0.5 }}>
          <Box sx={{ flex: 1, "& .MuiTextField-root": { width: "100%" } }}>
            <PickField
              declared={{ picks: "material" }}
              label={wrapped[row] ? `${readable(part)} weathers as` : `Material of ${readable(part).toLowerCase()}`}
              value={materials[row]}
              onPick={(value) =>
                change.now(`${structure.name}: material of ${part}`, [
                  { op: "add", path: `${path}/${wrapped[row] ? "weathers_as" : "materials"}/${pointer(part)}`, value },
                ])
              }
            />
            {wrapped[row] && (
              <Button
                onClick={() =>
                  change.now(`${structure.name}: ${part} of its material`, [
                    { op: "add", path: `${path}/materials/${pointer(part)}`, value: materials[row] },
                  ])
                }
              >
                Show this in place of its texture
              </Button>
            )}
            {textured && structure.materials[part] && (
              <Button
                onClick={() =>
                  change.now(`${structure.name}: ${part} as it came`, [
                    { op: "remove", path: `${path}/materials/${pointer(part)}` },
                  ])
                }
              >
                Show its own texture
              </Button>
            )}
          </Box>
          <Button
            aria-label={`Grade ${readable(part).toLowerCase()}`}
            onClick={(event) => setOpen({ anchor: event.currentTarget, part })}
          >
            Grade
          </Button>
        </Box>
      ))}
      <Popover
        open={open !== null}
        anchorEl={open?.anchor}
        onClose={() => setOpen(null)}
        anchorOrigin={{ vertical: "top", horizontal: "right" }}
        transformOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        {open && (
          <Box sx={{ p: 1.5, width: 280 }}>
            <Heading text={`grading of ${readable(open.part).toLowerCase()}`} />
            {grade ? (
              <>
                <DeclaredForm
                  subject={`${structure.name}: ${open.part}`}
                  path={`${path}/grades/${pointer(open.part)}`}
                  declared={declared}
                  value={grade}
                />
                <Button
                  color="secondary"
                  onClick={() =>
                    change.now(`${structure.name}: no grading of ${open.part}`, [
                      { op: "remove", path: `${path}/grades/${pointer(open.part)}` },
                    ])
                  }
                >
                  Delete the grading
                </Button>
              </>
            ) : (
              <Button
                onClick={() =>
                  change.now(`${structure.name}: grade ${open.part}`, [
                    {
                      op: "add",
                      path: `${path}/grades/${pointer(open.part)}`,
                      value: grades[parts.indexOf(open.part)],
                    },
                  ])
                }
              >
                Grade this part: darken, tint, vary its pieces, let it glow
              </Button>
            )}
          </Box>
        )}
      </Popover>
    </Box>
  );
}
