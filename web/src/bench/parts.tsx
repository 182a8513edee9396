import AddIcon from "@mui/icons-material/Add";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import type { Vocabulary } from "../api/client";
import { useVocabulary } from "../api/queries";
import { newScatter } from "../site/layers";
import { useDocument, useSiteContext } from "../site/context";
import { useView } from "../site/store";
import { colours } from "../theme/theme";

/** What the bench of a layer is given. */
export interface LayerProps<Layer> {
  layer: Layer;
  path: string;
  vocabulary: Vocabulary;
}

/** One stretch of the bench's sentence: what, where, how much. */
export function Section({
  title,
  name = typeof title === "string" ? title : "What it is",
  tone,
  children,
  wide,
  reading,
}: {
  title: ReactNode;
  /** What it is called by those who do not see it. */
  name?: string;
  tone: string;
  children: ReactNode;
  wide?: boolean;
  /** Whether there is nothing in it but words. */
  reading?: boolean;
}) {
  return (
    <Box
      component="section"
      aria-label={name}
      data-region
      // What has no control in it is scrolled by the keyboard.
      tabIndex={reading ? 0 : -1}
      sx={{
        outline: "none",
        borderRight: `1px solid ${colours.ruleDark}`,
        borderTop: `3px solid ${tone}`,
        px: 1.5,
        py: 0.75,
        overflowY: "auto",
        flex: wide ? "1 0 0" : "none",
        minWidth: wide ? 320 : 0,
      }}
    >
      <Box sx={{ mb: 0.5 }}>{title && (typeof title === "string" ? <Heading text={title} /> : title)}</Box>
      {children}
    </Box>
  );
}

export function Heading({ text }: { text: string }) {
  return (
    <Typography variant="caption" sx={{ color: colours.faint, fontWeight: 600 }}>
      {text}
    </Typography>
  );
}

/** A press adds a scatter over a surface and picks it. */
export function ScatterOver({ surface }: { surface: string }) {
  const { editor } = useSiteContext();
  const document = useDocument();
  const vocabulary = useVocabulary().data;
  return (
    <Button
      startIcon={<AddIcon />}
      disabled={!vocabulary}
      onClick={() => {
        const layer = newScatter(document, vocabulary!, surface);
        editor.commit(`Add ${layer.name}`, [{ op: "add", path: "/planting/-", value: layer }]);
        useView.getState().present({ part: "planting", id: layer.id });
      }}
    >
      Scatter over it
    </Button>
  );
}

/** A number to be seen from afar. */
export function Figure({ value, unit, testId }: { value: string; unit: string; testId: string }) {
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 0.75 }}>
      <Typography data-testid={testId} sx={{ fontSize: 24, fontWeight: 650, lineHeight: 1.1 }}>
        {value}
      </Typography>
      <Typography variant="caption">{unit}</Typography>
    </Box>
  );
}

/**
 * Words that come, go and wrap while a value is dragged. They keep the room of so many lines, so that nothing below moves
 * away from under the pointer.
 */
export function Note({ lines, warns, children }: { lines: number; warns?: boolean; children?: ReactNode }) {
  return (
    <Typography
      variant="caption"
      component="div"
      sx={{ height: `${lines}lh`, overflow: "hidden", color: warns ? colours.oxide : colours.faint }}
    >
      {children}
    </Typography>
  );
}
