import { type RefObject, useEffect } from "react";

const STOPS = "button:not(:disabled), [role=button]";
const ALONG: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };
const ACROSS: Record<string, number> = { ArrowUp: -1, ArrowDown: 1, Home: -Infinity, End: Infinity };

/** Keys by which one comes to a place without a pointer. */
const REACHES = /^(Tab|F6|Escape|[1-9])$/;

/**
 * One stop of the Tab key for many buttons: arrows go on from there, up and down between the elements that are marked by
 * `data-line`, left and right within one; without such lines all of it is one line. (WAI-ARIA authoring practices, roving tabindex.)
 *
 * What was pressed by a pointer leaves the arrows to others: a row that is picked so is moved in the view by them.
 * Where the button that had the focus goes away, its neighbour has it.
 */
export function useRoving(box: RefObject<HTMLElement | null>) {
  useEffect(() => {
    const here = box.current!;
    let byPointer = false;
    let last: { stop: HTMLElement; line: number; at: number } | null = null;
    let holds = false;

    const lines = () => {
      const marked = [...here.querySelectorAll<HTMLElement>("[data-line]")];
      return (marked.length ? marked : [here]).map((line) => [...line.querySelectorAll<HTMLElement>(STOPS)]);
    };
    const placeOf = (stop: EventTarget | null, all: HTMLElement[][]) => {
      const line = all.findIndex((one) => one.includes(stop as HTMLElement));
      return line < 0 ? null : { stop: stop as HTMLElement, line, at: all[line].indexOf(stop as HTMLElement) };
    };
    const nearest = (all: HTMLElement[][], line: number, at: number) => {
      const row = all[Math.min(all.length - 1, Math.max(0, line))];
      return row?.[Math.min(row.length - 1, Math.max(0, at))];
    };
    /** See to it that one stop alone is in the order of Tab. */
    const arrange = () => {
      const all = lines();
      const known = last && here.contains(last.stop) ? last.stop : null;
      const picked = here.querySelector<HTMLElement>("[data-row][aria-pressed=true]");
      const one = known ?? picked ?? all[0]?.[0];
      for (const stop of all.flat()) {
        const index = stop === one ? 0 : -1;
        if (stop.tabIndex !== index) stop.tabIndex = index;
      }
    };
    const changed = () => {
      const lost = holds && last && !here.contains(last.stop) ? last : null;
      const { activeElement } = document;
      if (lost && (!activeElement || activeElement === document.body || activeElement.contains(here)))
        nearest(lines(), lost.line, lost.at)?.focus();
      arrange();
    };
    const focused = (event: FocusEvent) => {
      last = placeOf(event.target, lines()) ?? last;
      holds = true;
      arrange();
    };
    // Whoever moves on does not come back; what goes away has no next place.
    const left = (event: FocusEvent) => (holds &&= !event.relatedTarget || here.contains(event.relatedTarget as Node));
    const pressed = (event: KeyboardEvent) => {
      const across = event.key in ACROSS;
      const by = ALONG[event.key] ?? ACROSS[event.key];
      if (by === undefined || byPointer || event.ctrlKey || event.metaKey || event.altKey) return;
      const all = lines();
      const place = placeOf(event.target, all);
      if (!place || (across && all.length === 1)) return;
      event.preventDefault();
      event.stopPropagation();
      nearest(all, place.line + (across ? by : 0), across ? 0 : place.at + by)?.focus();
    };
    const pointed = (event: PointerEvent) => (byPointer = here.contains(event.target as Node));
    const reached = (event: KeyboardEvent) => (byPointer &&= !REACHES.test(event.key));

    const watcher = new MutationObserver(changed);
    watcher.observe(here, { childList: true, subtree: true, attributes: true, attributeFilter: ["aria-pressed"] });
    here.addEventListener("focusin", focused);
    here.addEventListener("focusout", left);
    here.addEventListener("keydown", pressed);
    document.addEventListener("pointerdown", pointed, true);
    document.addEventListener("keydown", reached, true);
    arrange();
    return () => {
      watcher.disconnect();
      here.removeEventListener("focusin", focused);
      here.removeEventListener("focusout", left);
      here.removeEventListener("keydown", pressed);
      document.removeEventListener("pointerdown", pointed, true);
      document.removeEventListener("keydown", reached, true);
    };
  }, [box]);
}
