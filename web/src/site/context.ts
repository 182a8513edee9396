import { createContext, useContext, useMemo } from "react";
import type { Operation, SiteDocument } from "../api/client";
import { useSite } from "../api/queries";
import type { Editor } from "./editor";
import { applyOperations } from "./patch";
import type { Stage } from "./stage";
import { type Draft, useView } from "./store";

export interface SiteContext {
  siteId: string;
  editor: Editor;
  /** What the view of this page shows. */
  stage: Stage;
}

export const SiteContextValue = createContext<SiteContext | null>(null);

/** The site of this page. */
export function useSiteContext(): SiteContext {
  const value = useContext(SiteContextValue);
  if (!value) throw new Error("used outside a site's page");
  return value;
}

/** The document as it is to be shown: as saved, with the change that is being made on top. */
export function useDocument(): SiteDocument {
  const { siteId } = useSiteContext();
  const { data } = useSite(siteId);
  const draft = useView((state) => state.draft);
  return useMemo(() => (draft ? applyOperations(data!.document, draft.operations) : data!.document), [data, draft]);
}

/** Where what is changed at one place is changed alike at others: paths in the document. */
export const AlikeContext = createContext<{ at: string; others: string[] } | null>(null);

/** How to change a single value: while dragging, and for good. One gesture a drag. */
export function useChange() {
  const site = useSiteContext();
  const alike = useContext(AlikeContext);
  return useMemo(() => {
    const everywhere = (operations: Operation[]) =>
      operations.flatMap((one) =>
        alike && one.path.startsWith(`${alike.at}/`)
          ? [alike.at, ...alike.others].map((path) => ({ ...one, path: path + one.path.slice(alike.at.length) }))
          : [one],
      );
    const editor = {
      draft: (draft: Draft) => site.editor.draft({ ...draft, operations: everywhere(draft.operations) }),
      settle: () => site.editor.settle(),
      commit: (label: string, operations: Operation[]) => site.editor.commit(label, everywhere(operations)),
    };
    let gesture = "";
    return {
      live(label: string, operations: Operation[]) {
        gesture ||= crypto.randomUUID();
        editor.draft({ gesture, label, operations });
      },
      settle() {
        gesture = "";
        editor.settle();
      },
      now(label: string, operations: Operation[]) {
        gesture = "";
        editor.commit(label, operations);
      },
    };
  }, [site.editor, alike]);
}
