import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useDeferredValue, useEffect, useMemo, useState } from "react";
import { flushSync } from "react-dom";
import { Link, useParams } from "react-router";
import { readJobs } from "../api/jobs";
import { useSite } from "../api/queries";
import { Bench } from "./Bench";
import { Column } from "../column/Column";
import { KEYED } from "../parts/registry";
import { FinishedFiles } from "../jobs/FinishedFiles";
import { JobsBar } from "../jobs/JobsBar";
import { focusPicked, focusRegion } from "../forms/regions";
import { KitBrowser } from "../kit/KitBrowser";
import { MaterialBench } from "../materials/MaterialBench";
import { colours } from "../theme/theme";
import { ExportDialog } from "../transfer/ExportDialog";
import { View } from "./View";
import { StillsDialog } from "../stills/StillsDialog";
import { SiteContextValue, useSiteContext } from "../site/context";
import { nudge } from "../place/keys";
import { Editor } from "../site/editor";
import { followSite } from "../site/events";
import { emptyStage } from "../site/stage";
import { flipped } from "../view/parting";
import { brushIn, probeDown, probeUp, tracingIn } from "../site/inHand";
import { useView } from "../site/store";

/** One site: column, view, bench. */
export function SitePage() {
  const { siteId } = useParams() as { siteId: string };
  const queries = useQueryClient();
  const site = useSite(siteId);
  const editor = useMemo(() => new Editor(siteId, queries), [siteId, queries]);
  const context = useMemo(() => ({ siteId, editor, stage: emptyStage() }), [siteId, editor]);
  const loaded = site.data !== undefined;

  useEffect(() => {
    useView.getState().set({
      picked: null,
      alsoPicked: [],
      inHand: null,
      placed: [],
      asked: null,
      draft: null,
      conflict: null,
      notice: null,
      economy: "",
      shotId: null,
      saving: "saved",
      siteShown: false,
      showing: "lit",
      peeking: false,
      parted: null,
      partedBefore: null,
    });
    const flush = () => editor.flush();
    window.addEventListener("pagehide", flush);
    return () => {
      window.removeEventListener("pagehide", flush);
      editor.leave();
      void queries.invalidateQueries({ queryKey: ["sites"] });
      queries.removeQueries({ queryKey: ["site", siteId] });
      queries.removeQueries({ queryKey: ["jobs", siteId] });
    };
  }, [siteId, editor, queries]);

  useEffect(() => {
    if (!loaded) return;
    void editor.resume();
    void readJobs(queries, siteId);
    return followSite(siteId, queries, editor);
  }, [loaded, siteId, queries, editor]);

  // What cannot be read again, for once, is no reason to take away what is there.
  if (site.isError && !site.data)
    return (
      <Box component="main" sx={{ p: 5 }}>
        <Alert
          severity="error"
          action={
            <Button component={Link} to="/">
              To your sites
            </Button>
          }
        >
          {site.error.message}
        </Alert>
      </Box>
    );
  if (!site.data) return null;
  return (
    <SiteContextValue.Provider value={context}>
      <Keys />
      <Box sx={{ height: "100%", display: "grid", gridTemplateRows: "40px minmax(0, 1fr) 244px" }}>
        <TopBar name={site.data.name} undo={site.data.undo} redo={site.data.redo} />
        <Box component="main" sx={{ display: "grid", gridTemplateColumns: "252px minmax(0, 1fr)", minHeight: 0 }}>
          <Later>
            <Column />
          </Later>
          <Later>
            <View />
          </Later>
        </Box>
        <Later>
          <Bench />
        </Later>
      </Box>
      <ConflictBanner />
      <Notice />
    </SiteContextValue.Provider>
  );
}

/** Made in slices after the frame of the page is there, so that the page can be spoken to while it comes. */
function Later({ children }: { children: ReactNode }) {
  return useDeferredValue(true, false) ? children : <div />;
}

const SAVING = { saved: "All saved", saving: "Saving …", waiting: "Not saved yet: kept here" };

function TopBar({ name, undo, redo }: { name: string; undo?: string | null; redo?: string | null }) {
  const { editor } = useSiteContext();
  const saving = useView((state) => state.saving);
  const [exporting, setExporting] = useState(false);
  const [showing, setShowing] = useState<"kit" | "materials" | "stills" | null>(null);
  return (
    <Box
      component="header"
      aria-label="Site"
      data-region
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1,
        px: 1.5,
        borderBottom: `1px solid ${colours.ink}`,
        background: colours.pale,
      }}
    >
      <Link to="/" aria-label="All sites" style={{ display: "flex" }}>
        <img src="/mark.svg" alt="" width={24} height={24} />
      </Link>
      <Typography component="h1" sx={{ fontWeight: 650, fontSize: 15 }}>
        {name}
      </Typography>
      <Typography variant="caption" role="status" aria-label="Saving" sx={{ color: colours.faint, minWidth: 90 }}>
        {SAVING[saving]}
      </Typography>
      <Tooltip title={undo ? `Undo: ${undo}` : "Nothing to undo"}>
        <span>
          <Button disabled={!undo} onClick={() => editor.step(true)}>
            Undo
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={redo ? `Redo: ${redo}` : "Nothing to redo"}>
        <span>
          <Button disabled={!redo} onClick={() => editor.step(false)}>
            Redo
          </Button>
        </span>
      </Tooltip>
      <Box sx={{ flex: 1 }} />
      <JobsBar />
      <Button onClick={() => setShowing("stills")}>Stills</Button>
      <FinishedFiles />
      <Button onClick={() => setShowing("kit")}>Kit</Button>
      <Button onClick={() => setShowing("materials")}>Materials</Button>
      <Button variant="outlined" onClick={() => setExporting(true)}>
        Export
      </Button>
      {exporting && <ExportDialog onClose={() => setExporting(false)} />}
      {showing === "stills" && <StillsDialog onClose={() => setShowing(null)} />}
      {showing === "kit" && <KitBrowser onClose={() => setShowing(null)} />}
      {showing === "materials" && <MaterialBench onClose={() => setShowing(null)} />}
    </Box>
  );
}

function ConflictBanner() {
  const conflict = useView((state) => state.conflict);
  const { editor } = useSiteContext();
  return (
    <Snackbar open={conflict !== null} anchorOrigin={{ vertical: "top", horizontal: "center" }}>
      <Alert
        severity="warning"
        sx={{ maxWidth: 720 }}
        action={
          <>
            <Button color="inherit" onClick={() => void editor.resolveConflict(false)}>
              Show the newest
            </Button>
            <Button color="inherit" onClick={() => void editor.resolveConflict(true)}>
              Newest with mine on top
            </Button>
          </>
        }
      >
        {conflict?.message} (Yours: {conflict?.label}.)
      </Alert>
    </Snackbar>
  );
}

function Notice() {
  const notice = useView((state) => state.notice);
  const { set } = useView.getState();
  return (
    <Snackbar
      open={notice !== null}
      autoHideDuration={notice?.tone === "error" ? 12_000 : 6000}
      onClose={(_, reason) => reason !== "clickaway" && set({ notice: null })}
      anchorOrigin={{ vertical: "top", horizontal: "center" }}
    >
      <Alert severity={notice?.tone ?? "info"} onClose={() => set({ notice: null })} sx={{ maxWidth: 720 }}>
        {notice?.text}
      </Alert>
    </Snackbar>
  );
}

/** Keys of our own; none is needed. */
function Keys() {
  const { editor } = useSiteContext();
  useEffect(() => {
    const typing = (target: EventTarget | null) =>
      target instanceof HTMLElement &&
      target.matches(
        "input, textarea, select, [contenteditable], [role=slider], [role=option], [role=combobox], [role=menuitem]",
      );
    // What takes text undoes in its own text; a switch or a slider has none.
    const writing = (target: EventTarget | null) =>
      target instanceof HTMLElement &&
      target.matches("input:not([type=checkbox], [type=radio], [type=range]), textarea");
    const inBench = (target: EventTarget | null) =>
      target instanceof Element && target.closest("[data-region]") !== null && target.closest("nav, main") === null;
    // Space presses a button that has the focus, but for the row that is picked: pressing that again would do nothing.
    const pressing = (event: KeyboardEvent) =>
      event.target instanceof HTMLButtonElement &&
      event.code === "Space" &&
      !event.target.matches("[data-row][aria-pressed=true]");
    const down = (event: KeyboardEvent) => {
      if (event.key === "F6") {
        event.preventDefault();
        // What lies over the page keeps the focus.
        if (!(event.target as Element).closest?.("[role=dialog], [role=menu], [role=listbox]"))
          focusRegion(event.shiftKey);
        return;
      }
      const command = event.ctrlKey || event.metaKey;
      if (command && event.key.toLowerCase() === "z" && !writing(event.target)) {
        event.preventDefault();
        editor.step(!event.shiftKey);
        return;
      }
      const parts = event.target instanceof HTMLElement && event.target.matches("[data-parting]");
      if (event.key.toLowerCase() === "x" && !command && !event.altKey && (parts || !typing(event.target))) {
        const { parted, partedBefore, set } = useView.getState();
        set(flipped(parted, partedBefore));
        return;
      }
      const view = useView.getState();
      // From the bench back to the row that it is about.
      if (event.key === "Escape" && view.picked && !view.inHand && inBench(event.target)) {
        focusPicked(view.picked.part);
        return;
      }
      if (typing(event.target) || pressing(event) || command || event.altKey) return;
      const brush = brushIn(view);
      if ((event.key === "[" || event.key === "]") && brush) {
        const radius = brush.radius * (event.key === "[" ? 0.8 : 1.25);
        view.take({ ...brush, radius: Number(Math.min(50, Math.max(0.05, radius)).toFixed(3)) });
      } else if (event.key === "Escape" && view.inHand) view.take(null);
      else if (event.key === "?") {
        if (!event.repeat) view.take(probeUp(view.inHand));
      } else if (event.code === "Space") {
        event.preventDefault();
        view.set({ peeking: true });
      } else if (/^[0-9]$/.test(event.key)) {
        const entry = KEYED[(Number(event.key) + 9) % 10];
        const document = editor.state()?.document;
        if (!entry || !document) return;
        const first = entry.list ? document[entry.list][0]?.id : undefined;
        // The row is told as picked before the focus looks for it.
        flushSync(() => (!entry.list || first) && view.pick({ part: entry.part, id: first }));
        focusPicked(entry.part);
      } else if (!tracingIn(view) && !view.placed.length) nudge(event, editor);
    };
    const up = (event: KeyboardEvent) => {
      const { inHand, set, take } = useView.getState();
      if (event.code === "Space") set({ peeking: false });
      // Whichever of ? and Shift is let go first.
      else if (event.key === "?" || event.code === "Slash" || event.code === "Minus") take(probeDown(inHand));
    };
    // A window that is left hears no more of keys that are let go.
    const left = () => useView.setState(({ inHand }) => ({ peeking: false, inHand: probeDown(inHand) }));
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", left);
    return () => {
      window.removeEventListener("blur", left);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [editor]);
  return null;
}
