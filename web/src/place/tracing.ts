import { inWords, type Operation } from "../api/client";
import { postPack } from "../api/queries";
import type { Editor } from "../site/editor";
import type { Of, Tracing } from "../site/inHand";
import { useView } from "../site/store";
import { aimedAt, inOwnFrame } from "../site/poses";

/** Points that a line of each kind needs. */
export const LEAST = { path: 2, outline: 3, place: 1, line: 2 };

/** What a drawn line or place sets. */
export function traceOperations({ draws, path, name, sets, frame, points, adds, aims }: Tracing): Operation[] {
  if (aims) return [{ op: "replace", path: `${path}/${name}`, value: aimedAt(aims, points[points.length - 1]) }];
  const own = inOwnFrame(points, frame);
  const value = draws === "place" ? own[own.length - 1] : draws === "line" ? own : own.map(([x, , z]) => [x, z]);
  if (adds) return [{ op: "add", path, value: { ...adds, [name]: value } }];
  const also = Object.entries(sets).map(([other, wanted]) => ({
    op: "replace" as const,
    path: `${path}/${other}`,
    value: wanted,
  }));
  return [{ op: "replace", path: `${path}/${name}`, value }, ...also];
}

/** Keep what was drawn, if the site can take it; otherwise say why and leave it to be mended. */
export async function finishTrace(siteId: string, editor: Editor, tracing: Of<"trace">): Promise<void> {
  const { set, take } = useView.getState();
  const operations = traceOperations(tracing);
  try {
    await editor.idle();
    await postPack(`/api/sites/${siteId}/preview`, { operations });
  } catch (error) {
    set({ notice: { tone: "error", text: `${inWords(error)} What you drew is kept: take points back, or draw on.` } });
    if (tracing.draws === "place") take({ ...tracing, points: [] });
    return;
  }
  take(null);
  editor.commit(tracing.label, operations);
}
