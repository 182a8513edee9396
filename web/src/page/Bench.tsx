import { Overview } from "../bench/Overview";
import { useVocabulary } from "../api/queries";
import Box from "@mui/material/Box";
import { KeepFocus } from "../forms/KeepFocus";
import { focusWithin } from "../forms/regions";
import { partOf } from "../parts/registry";
import { useDocument } from "../site/context";
import { useEffect, useRef } from "react";
import { useView } from "../site/store";
import { colours } from "../theme/theme";

/** What the picked layer is, read from left to right: what – where – how much. */
export function Bench() {
  const picked = useView((state) => state.picked);
  const document = useDocument();
  const vocabulary = useVocabulary().data;
  const part = picked && partOf(picked.part);
  // What is picked may be gone: deleted, or undone.
  const there = !part?.list || document[part.list].some((layer) => layer.id === picked!.id);
  const toBench = useView((state) => state.toBench);
  const bench = useRef<HTMLDivElement>(null);
  const ready = Boolean(vocabulary && part && there);
  useEffect(() => {
    if (!toBench || !ready) return;
    useView.getState().set({ toBench: false });
    focusWithin(bench.current!);
  }, [toBench, ready]);
  return (
    <Box ref={bench} sx={{ display: "contents" }}>
      <KeepFocus
        component="section"
        aria-label="Bench"
        sx={{
          gridColumn: "1 / -1",
          borderTop: `1px solid ${colours.ink}`,
          background: colours.limestone,
          display: "flex",
          minWidth: 0,
          overflowX: "auto",
          overflowY: "hidden",
        }}
      >
        {vocabulary && part && there ? (
          <part.Bench id={picked.id} document={document} vocabulary={vocabulary} />
        ) : (
          <Overview />
        )}
      </KeepFocus>
    </Box>
  );
}
