/** What can have the focus, as far as the page uses it. */
const FOCUSABLE = "button, input, select, textarea, a[href], [tabindex]";

const canHave = (one: HTMLElement) =>
  one.tabIndex >= 0 && !one.matches(":disabled, [aria-hidden=true]") && canBeSeen(one);

/** Put the focus on the first control of an element, or on the element itself. */
export function focusWithin(box: HTMLElement) {
  const first = [...box.querySelectorAll<HTMLElement>(FOCUSABLE)].find(canHave);
  (first ?? box).focus();
}

/** Go on to the next region of the page, or back to the one before: those are marked by `data-region`. */
export function focusRegion(back: boolean) {
  const regions = [...document.querySelectorAll<HTMLElement>("[data-region]")].filter(canBeSeen);
  // The last that contains the focus is the innermost.
  const at = regions.map((one) => one.contains(document.activeElement)).lastIndexOf(true);
  const before = document.activeElement;
  // One whose first control lies in a region within it leads nowhere new.
  for (let steps = 1; steps <= regions.length && document.activeElement === before; steps++) {
    const next = at < 0 && back ? -steps : (at + (back ? -steps : steps)) % regions.length;
    focusWithin(regions.at(next)!);
  }
}

const canBeSeen = (one: HTMLElement) => one.getClientRects().length > 0;

/** Put the focus on the row of the column that is picked, or on the head of its part. */
export function focusPicked(part: string) {
  const band = document.querySelector<HTMLElement>(`[data-part="${part}"]`);
  const row = band?.querySelector<HTMLElement>("[data-row][aria-pressed=true]") ?? band?.querySelector("button");
  row?.focus();
}
