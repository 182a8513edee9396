import type { ComponentType, ReactNode } from "react";
import type { Operation, SceneManifest, SiteDocument, Vocabulary } from "../api/client";
import type { Editor } from "../site/editor";
import type { LayerList } from "../site/layers";
import type { Stage } from "../site/stage";
import type { Part } from "../site/store";
import type { Affects } from "../view/preview";

/** What an entry of an add menu is given. */
export interface Adding {
  siteId: string;
  editor: Editor;
  stage: Stage;
  vocabulary: Vocabulary;
  /** The site as it is when the entry is chosen. */
  document: () => SiteDocument;
  /** Add a layer to the part's list, and pick it. */
  add: (value: { id: string; name: string }) => void;
}

/** An entry of an add menu: it does something at once, or opens a dialog. */
export interface AddEntry {
  key: string;
  title: string;
  act?: () => void;
  dialog?: (close: () => void) => ReactNode;
}

/** A part of the site: a band of the column, what can be added to it, and the bench of what is picked in it. */
export interface PartModule {
  /** Its key in the document. */
  part: Part;
  name: string;
  /** Its place from the ground upward; a whole number is also its key on the keyboard. */
  order: number;
  tone: string;
  /** The key of its list of layers in the document, where it has one. */
  list?: LayerList;
  /** What its band says while its list is empty. */
  empty?: string;
  /** What a layer costs, in a few characters. */
  cost?: (id: string, document: SiteDocument, scene?: SceneManifest) => string;
  /** What stands before a layer's name, small. */
  Mark?: ComponentType<{ id: string }>;
  /** Whether all of it can be hidden, by its `shown` in the document. */
  hides?: boolean;
  add?: { label: string; entries: (adding: Adding) => AddEntry[] };
  /** What lies on the bench when it, or a layer of its list, is picked; null where that is gone. */
  Bench: ComponentType<BenchProps>;
  /** What changes touch of what is seen while they are made, by key of the document. */
  affects?: Record<string, Affects>;
  /** How a layer is deleted, where that takes more than taking it out of its list. */
  deletion?: (document: SiteDocument, index: number) => Operation[];
}

export interface BenchProps {
  id?: string;
  document: SiteDocument;
  vocabulary: Vocabulary;
}
