import AddIcon from "@mui/icons-material/Add";
import DeleteIcon from "@mui/icons-material/DeleteOutline";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import type { ComponentType } from "react";
import { useChange } from "../site/context";
import { colours } from "../theme/theme";
import { type Declared, declaredGroup, groupOfItems, labelOf } from "../api/declared";

interface ListProps {
  subject: string;
  path: string;
  name: string;
  declared: Declared;
  value: Record<string, unknown>[];
  /** The form of one entry: given, since forms have lists in them. */
  Entry: ComponentType<EntryProps>;
}

interface EntryProps {
  subject: string;
  path: string;
  declared: Record<string, Declared>;
  value: Record<string, unknown>;
  columns: number;
}

/** A list of declared groups: one form a row, to be added to and taken from. */
export function DeclaredList({ subject, path, name, declared, value, Entry }: ListProps) {
  const change = useChange();
  const group = declaredGroup(groupOfItems(declared)!);
  const label = labelOf(name, declared);
  const usual = Object.fromEntries(Object.entries(group).map(([one, entry]) => [one, entry.default]));
  const some = Object.keys(group).length > 3;
  return (
    <Box role="group" aria-label={label} sx={{ gridColumn: "1 / -1", borderTop: `1px solid ${colours.rule}`, mt: 0.5 }}>
      <Box sx={{ fontSize: 12, color: colours.faint, fontWeight: 600, pt: 0.5 }}>{label}</Box>
      {value.map((row, index) => (
        // Rows have no names of their own; forms read their values by place.
        <Box
          key={index}
          sx={{ display: "flex", alignItems: "center", gap: 1, borderBottom: `1px solid ${colours.rule}` }}
        >
          <Box sx={{ flex: 1 }}>
            <Entry
              subject={`${subject}: ${label.toLowerCase()} ${index + 1}`}
              path={`${path}/${index}`}
              declared={group}
              value={row}
              columns={some ? 3 : 2}
            />
          </Box>
          <IconButton
            aria-label={`Delete ${label.toLowerCase()} ${index + 1}`}
            disabled={value.length <= (declared.minItems ?? 0)}
            onClick={() =>
              change.now(`${subject}: remove from ${label.toLowerCase()}`, [{ op: "remove", path: `${path}/${index}` }])
            }
            sx={{ p: 0.25 }}
          >
            <DeleteIcon sx={{ fontSize: 16 }} />
          </IconButton>
        </Box>
      ))}
      <Button
        startIcon={<AddIcon />}
        disabled={value.length >= (declared.maxItems ?? Infinity)}
        onClick={() =>
          change.now(`${subject}: add to ${label.toLowerCase()}`, [{ op: "add", path: `${path}/-`, value: usual }])
        }
      >
        Add to {label.toLowerCase()}
      </Button>
    </Box>
  );
}
