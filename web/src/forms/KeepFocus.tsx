import Box, { type BoxProps } from "@mui/material/Box";
import { useEffect, useRef } from "react";

/**
 * A part of the page that keeps the keyboard's focus: where what had it goes away, a row that was deleted for instance, it falls
 * to the part itself and not to the page, so that Escape and Tab go on from there.
 */
export function KeepFocus(props: BoxProps & { component?: "section" | "nav" }) {
  const part = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const here = part.current!;
    let had: Element | null = null;
    const note = (event: FocusEvent) => (had = event.target as Element);
    const left = (event: FocusEvent) => {
      // What goes away has no next place for the focus; whoever moves on has.
      if (event.relatedTarget) had = null;
    };
    const watcher = new MutationObserver(() => {
      if (!had || here.contains(had)) return;
      had = null;
      if (!document.activeElement || document.activeElement === document.body) here.focus({ preventScroll: true });
    });
    const aside = (event: PointerEvent) => {
      if (!here.contains(event.target as Node)) had = null;
    };
    here.addEventListener("focusin", note);
    document.addEventListener("pointerdown", aside, true);
    here.addEventListener("focusout", left);
    watcher.observe(here, { childList: true, subtree: true });
    return () => {
      watcher.disconnect();
      here.removeEventListener("focusin", note);
      document.removeEventListener("pointerdown", aside, true);
      here.removeEventListener("focusout", left);
    };
  }, []);
  return <Box ref={part} tabIndex={-1} {...props} sx={{ outline: "none", ...props.sx }} />;
}
