import { Overview } from "../bench/Overview";
import { useVocabulary } from "../api/queries";
import { KeepFocus } from "../forms/KeepFocus";
import { partOf } from "../parts/registry";
import { useDocument } from "../site/context";
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
  return (
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
  );
}
