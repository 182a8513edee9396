import { client, inWords, type SiteDocument, type Structure, unwrap } from "../api/client";
import { freshId, freshName } from "../site/layers";
import { declaredGroup } from "../api/declared";
import type { Editor } from "../site/editor";
import { useView } from "../site/store";

type Heap = Extract<Structure["source"], { kind: "heap" }>;
export type Drop = Heap["drop"];

/** A drop as it begins: some of an item, over the usual area. */
export function usualDrop(item: string, number: number): Drop {
  const usual = Object.fromEntries(Object.entries(declaredGroup("Drop")).map(([name, entry]) => [name, entry.default]));
  return { ...(usual as Drop), mix: [{ item, number }] };
}

interface Asked {
  /** The heap that is dropped anew; none for a new one. */
  heap?: Structure;
  drop: Drop;
  position: [number, number, number];
}

/** Have things fall; once they rest the server puts them on the site. */
export async function letFall(siteId: string, editor: Editor, document: SiteDocument, asked: Asked): Promise<void> {
  const names = document.structures.map((one) => one.name);
  const { heap, drop, position } = asked;
  const placement = heap?.placement ?? { position, turn: 0, tip: 0, roll: 0, size: 1 };
  try {
    // What is changed but not saved yet is part of what they fall on.
    await editor.idle();
    const job = await unwrap(
      client.POST("/api/sites/{site_id}/drops", {
        params: { path: { site_id: siteId } },
        body: { heap: heap?.id ?? freshId("heap"), name: heap?.name ?? freshName("Heap", names), placement, drop },
      }),
    );
    editor.noteJob(job);
  } catch (error) {
    useView.getState().set({ notice: { tone: "error", text: inWords(error) } });
  }
}
