import AddIcon from "@mui/icons-material/Add";
import ArrowDownIcon from "@mui/icons-material/ArrowDownward";
import ArrowUpIcon from "@mui/icons-material/ArrowUpward";
import DeleteIcon from "@mui/icons-material/DeleteOutline";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useVocabulary } from "../api/queries";
import { plainButton, VisibilityButton } from "../forms/VisibilityButton";
import { declaredKind } from "../api/declared";
import { DeclaredForm } from "../forms/DeclaredForm";
import { useChange } from "../site/context";
import { colours } from "../theme/theme";
import { LayerForm } from "./LayerForm";
import { newLayer, type Recipe } from "./recipes";

interface StackProps {
  recipe: Recipe;
  /** JSON pointer of the recipe in the document; none where it is only looked at. */
  path: string | null;
  subject: string;
}

/** The layers of a recipe, uppermost first. */
export function LayerStack({ recipe, path, subject }: StackProps) {
  const change = useChange();
  const vocabulary = useVocabulary().data;
  const patterns = vocabulary?.patterns ?? [];
  const [open, setOpen] = useState<number | null>(null);
  const [adding, setAdding] = useState<HTMLElement | null>(null);
  const layers = recipe.layers;
  const add = (kind: "pattern" | "grade", pattern?: string) => {
    const layer = newLayer(vocabulary!.starters.pattern_layer, kind, pattern);
    change.now(`${subject}: add a layer`, [{ op: "add", path: `${path}/layers/-`, value: layer }]);
    setOpen(layers.length);
    setAdding(null);
  };
  const move = (row: number, to: number) => {
    change.now(`${subject}: move ${layers[row].name}`, [
      { op: "remove", path: `${path}/layers/${row}` },
      { op: "add", path: `${path}/layers/${to}`, value: layers[row] },
    ]);
    setOpen(open === row ? to : null);
  };
  return (
    <Box>
      {path && (
        <DeclaredForm
          subject={subject}
          path={path}
          declared={declaredKind("recipe")}
          value={recipe as unknown as Record<string, unknown>}
        />
      )}
      <Box sx={{ display: "flex", alignItems: "center", mt: 1 }}>
        <Typography variant="caption" sx={{ flex: 1, fontWeight: 600, color: colours.faint }}>
          layers, uppermost first
        </Typography>
        {path && (
          <Button
            startIcon={<AddIcon />}
            disabled={layers.length >= 24}
            onClick={(event) => setAdding(event.currentTarget)}
          >
            Add a layer
          </Button>
        )}
      </Box>
      <Menu anchorEl={adding} open={adding !== null} onClose={() => setAdding(null)}>
        {patterns.map((one) => (
          <MenuItem key={one.kind} dense onClick={() => add("pattern", one.kind)}>
            {one.title}
          </MenuItem>
        ))}
        <MenuItem dense divider onClick={() => add("grade")}>
          Grade what lies below
        </MenuItem>
      </Menu>
      {[...layers.keys()].reverse().map((row) => {
        const layer = layers[row];
        const at = `${path}/layers/${row}`;
        return (
          <Box key={row} sx={{ borderTop: `1px solid ${colours.rule}`, opacity: layer.shown ? 1 : 0.55 }}>
            <Box sx={{ display: "flex", alignItems: "center" }}>
              <Box
                component="button"
                aria-expanded={open === row}
                disabled={!path}
                onClick={() => setOpen(open === row ? null : row)}
                sx={{ ...plainButton, flex: 1, fontWeight: open === row ? 650 : 400 }}
              >
                {layer.name}{" "}
                <Typography component="span" variant="caption" sx={{ color: colours.faint, ml: 0.75 }}>
                  {layer.kind === "grade" ? "grade" : layer.drawn.pattern.kind}
                </Typography>
              </Box>
              {path && open === row && (
                <>
                  <IconButton
                    aria-label={`Move ${layer.name} up`}
                    disabled={row === layers.length - 1}
                    onClick={() => move(row, row + 1)}
                  >
                    <ArrowUpIcon sx={{ fontSize: 16 }} />
                  </IconButton>
                  <IconButton
                    aria-label={`Move ${layer.name} down`}
                    disabled={row === 0}
                    onClick={() => move(row, row - 1)}
                  >
                    <ArrowDownIcon sx={{ fontSize: 16 }} />
                  </IconButton>
                  <IconButton
                    aria-label={`Delete ${layer.name}`}
                    disabled={layers.length < 2}
                    onClick={() => {
                      change.now(`${subject}: delete ${layer.name}`, [{ op: "remove", path: at }]);
                      setOpen(null);
                    }}
                  >
                    <DeleteIcon sx={{ fontSize: 16 }} />
                  </IconButton>
                </>
              )}
              {path && (
                <VisibilityButton
                  shown={layer.shown}
                  name={layer.name}
                  onClick={() =>
                    change.now(`${subject}: ${layer.shown ? "hide" : "show"} ${layer.name}`, [
                      { op: "replace", path: `${at}/shown`, value: !layer.shown },
                    ])
                  }
                />
              )}
            </Box>
            {path && open === row && <LayerForm layer={layer} path={at} subject={`${subject}: ${layer.name}`} />}
          </Box>
        );
      })}
    </Box>
  );
}
