"""``view.open`` and ``view.drag``: how long the page takes on the demo site, in headless Chromium drawn by the processor."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
from measuring import Figure
from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).resolve().parents[2]))
from launch.common import ROOT, VAR, python
from launch.live import CHROMIUM, CHROMIUM_ARGUMENTS, LiveServer

DATABASE, STORE = "cenote_bench", VAR / "bench-store"
MOVES = 40

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


def _database(statement: str) -> None:
    keys = {"port": "CENOTE_DB_PORT", "password": "CENOTE_DB_PASSWORD"}
    with psycopg.connect(
        host="127.0.0.1",
        user="cenote",
        dbname="postgres",
        autocommit=True,
        **{k: os.environ[v] for k, v in keys.items()},
    ) as connection:
        connection.execute(statement)


def _demo() -> None:
    """A database of its own with the demo site in it."""
    _database(f"DROP DATABASE IF EXISTS {DATABASE} WITH (FORCE)")
    _database(f"CREATE DATABASE {DATABASE}")
    env = os.environ | {"CENOTE_DB_NAME": DATABASE, "CENOTE_STORE": str(STORE)}
    command = [python(), str(ROOT / "server" / "manage.py"), "make_ready"]
    done = subprocess.run(command, env=env, capture_output=True, text=True)
    if done.returncode:
        raise SystemExit(f"manage.py make_ready failed:\n{done.stderr[-2000:]}")


def _open(page: Page) -> float:
    """Open the demo site from the list; seconds from the click to the first frame that shows it whole."""
    page.get_by_label("Open Tallow Lock").wait_for()
    page.wait_for_timeout(1500)
    began = page.evaluate("performance.clearMarks(), performance.now()")
    page.get_by_label("Open Tallow Lock").click()
    shown = "performance.getEntriesByName('cenote-site-shown')"
    page.wait_for_function(f"{shown}.length > 0", polling=100, timeout=120_000)
    return float((page.evaluate(f"{shown}[0].startTime") - began) / 1000)


def _empty_frame(page: Page) -> float:
    """Milliseconds for one more frame of the same view, to compare with."""
    page.evaluate(WATCH)
    return float(
        page.evaluate(
            """async () => {
              const gl = document.querySelector("canvas").getContext("webgl2");
              const taken = [];
              for (let i = 0; i < 5; i++) {
                const began = performance.now();
                await new Promise((resolve) => {
                  const watcher = new PerformanceObserver((list) => {
                    if (!list.getEntriesByName("cenote-frame").length) return;
                    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
                    watcher.disconnect(); resolve();
                  });
                  watcher.observe({ entryTypes: ["mark"] });
                  document.querySelector("canvas").dispatchEvent(new WheelEvent("wheel", { deltaY: i % 2 ? 1 : -1, bubbles: true }));
                });
                taken.push(performance.now() - began);
              }
              return taken.sort((a, b) => a - b)[2];
            }"""
        )
    )


def _drag(page: Page) -> list[tuple[float, float]]:
    """Drag one end of the moss's ramp on sky exposure to and fro; for each move the milliseconds to new pixels."""
    page.get_by_role("button", name="Old moss", exact=True).click()
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


def figures() -> Iterator[Figure]:
    """Opening and dragging, beside a frame of the same view without any change."""
    _demo()
    server = LiveServer(DATABASE, str(STORE)).start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(server.address)
            page.get_by_label("Name").fill("demo")
            page.get_by_label("Password").fill("tallow-lock")
            page.get_by_role("button", name="Sign in").click()
            # The server makes itself ready meanwhile, as it does while somebody reads the list.
            page.wait_for_timeout(9000)
            opened = [_open(page)]
            for _ in range(2):
                page.goto(server.address)
                opened.append(_open(page))
            yield Figure("view.open", opened[0], "s", " first time in a fresh browser; the aim is at most 5")
            yield Figure("view.open.again", min(opened[1:]), "s")
            page.wait_for_timeout(12_000)
            frame = _empty_frame(page)
            yield Figure("view.frame", frame, "ms", " a frame of the same view when only the camera moves")
            taken = _drag(page)
            whole = sorted(one for one, _ in taken)
            yield Figure(
                "view.drag", statistics.median(whole), "ms", " median from input to new pixels; the aim is at most 300"
            )
            yield Figure("view.drag.p95", whole[int(len(whole) * 0.95)], "ms", " 95th percentile")
            yield Figure(
                "view.drag.server",
                statistics.median(one for _, one in taken),
                "ms",
                " of the median until the answer is there",
            )
            yield Figure(
                "view.drag.ratio", statistics.median(whole) / frame, "×", " against a frame when only the camera moves"
            )
            browser.close()
    finally:
        server.stop()
        _database(f"DROP DATABASE IF EXISTS {DATABASE} WITH (FORCE)")
