"""``view.open``, ``view.drag`` and ``view.scrub``: how long the page takes on the demo site, in headless Chromium drawn by the processor."""

from __future__ import annotations

import statistics
from collections.abc import Iterator
from typing import Any

from live_page import frame_time, live_page, wait_until
from measuring import Figure
from playwright.sync_api import Page

MOVES, SCRUBS = 40, 20

# Resolves with the milliseconds from an input to the first frame whose pixels are drawn from a preview asked for after it.
WATCH = """
() => {
  const gl = document.querySelector("canvas").getContext("webgl2");
  window.sinceInput = () => new Promise((resolve) => {
    let began = null, asked = false, server = null;
    const note = (event) => { began ??= performance.now(); };
    window.addEventListener("pointermove", note, { capture: true, once: true });
    const watcher = new PerformanceObserver((list) => {
      for (const mark of list.getEntries()) {
        if (mark.name === "cenote-preview" && began !== null && mark.detail.asked >= began) {
          asked = true; server = performance.now() - began;
        } else if (mark.name === "cenote-frame" && asked) {
          gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
          watcher.disconnect();
          resolve([performance.now() - began, server]);
          return;
        }
      }
    });
    watcher.observe({ entryTypes: ["mark"] });
  });
}
"""


def _open(page: Page) -> float:
    """Open the demo site from the list; seconds from the click to the first frame that shows it whole."""
    page.get_by_label("Open Tallow Lock").wait_for()
    page.wait_for_timeout(1500)
    began = page.evaluate("performance.clearMarks(), performance.now()")
    page.get_by_label("Open Tallow Lock").click()
    shown = "performance.getEntriesByName('cenote-site-shown')"
    wait_until(page, f"{shown}.length > 0", 120)
    return float((page.evaluate(f"{shown}[0].startTime") - began) / 1000)


def _drag(page: Page) -> list[tuple[float, float]]:
    """Drag one end of a ramp of the dirt that all but a few surfaces share to and fro; for each move the milliseconds
    to new pixels."""
    page.evaluate(WATCH)
    page.get_by_role("button", name="Dirt in corners", exact=True).click()
    handle = page.get_by_label("Noise card").get_by_label("Full at").first
    handle.wait_for()
    page.wait_for_timeout(4000)
    box = handle.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    taken: list[Any] = []
    for step in range(MOVES + 3):
        waiting = page.evaluate_handle("({ result: window.sinceInput() })")
        page.mouse.move(x - 20 + 13 * (step % 7) - step % 3, y)
        taken.append(page.evaluate("(w) => w.result", waiting))
    page.mouse.up()
    return [(whole, server) for whole, server in taken[3:]]


def _scrub(page: Page, dial: str) -> list[float]:
    """Drag a dial of the climate up and down; for each move the milliseconds to new pixels. It is put back after."""
    page.evaluate(WATCH)
    slider = page.get_by_role("slider", name=dial)
    box = slider.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    taken = []
    for step in range(SCRUBS + 3):
        waiting = page.evaluate_handle("({ result: window.sinceInput() })")
        page.mouse.move(x, y - 12 - 9 * (step % 5) - step % 3)
        taken.append(page.evaluate("(w) => w.result", waiting)[0])
    page.mouse.up()
    page.wait_for_timeout(6000)
    page.get_by_role("button", name="Undo", exact=True).click()
    page.wait_for_timeout(9000)
    return taken[3:]


def figures() -> Iterator[Figure]:
    """Opening and dragging, beside a frame of the same view without any change."""
    with live_page() as page:
        # The server makes itself ready meanwhile, as it does while somebody reads the list.
        page.wait_for_timeout(9000)
        opened = [_open(page)]
        for _ in range(2):
            page.goto("/")
            opened.append(_open(page))
        yield Figure("view.open", opened[0], "s", " first time in a fresh browser; the aim is at most 5")
        yield Figure("view.open.again", min(opened[1:]), "s")
        page.wait_for_timeout(12_000)
        frame = frame_time(page)
        yield Figure("view.frame", frame, "ms", " a frame of the same view when only the camera moves")
        taken = _drag(page)
        whole = sorted(one for one, _ in taken)
        yield Figure(
            "view.drag", statistics.median(whole), "ms", " median from input to new pixels; the aim is at most 250"
        )
        yield Figure("view.drag.p95", whole[int(len(whole) * 0.95)], "ms", " 95th percentile; the aim is at most 400")
        yield Figure(
            "view.drag.server",
            statistics.median(one for _, one in taken),
            "ms",
            " of the median until the answer is there",
        )
        yield Figure(
            "view.drag.ratio", statistics.median(whole) / frame, "×", " against a frame when only the camera moves"
        )
        page.keyboard.press("Escape")
        page.wait_for_timeout(9000)
        for dial in ("Years", "Snow"):
            scrubbed = sorted(_scrub(page, dial))
            aim = "; the aim is at most 400"
            yield Figure(f"view.scrub.{dial.lower()}", statistics.median(scrubbed), "ms", f" median, coarse{aim}")
            yield Figure(
                f"view.scrub.{dial.lower()}.p95", scrubbed[int(len(scrubbed) * 0.95)], "ms", " 95th percentile"
            )
