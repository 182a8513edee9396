"""A page on a server and a database of its own with the demo sites, for figures of the view."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import psycopg
from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
from launch.common import ROOT, VAR, python
from launch.live import CHROMIUM, CHROMIUM_ARGUMENTS, LiveServer
from launch.live import wait_until as wait_until

DATABASE, STORE = "cenote_bench", VAR / "bench-store"


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


def demo() -> None:
    """A database of its own with the demo site in it."""
    _database(f"DROP DATABASE IF EXISTS {DATABASE} WITH (FORCE)")
    _database(f"CREATE DATABASE {DATABASE}")
    env = os.environ | {"CENOTE_DB_NAME": DATABASE, "CENOTE_STORE": str(STORE)}
    command = [python(), str(ROOT / "server" / "manage.py"), "make_ready", "--measured"]
    done = subprocess.run(command, env=env, capture_output=True, text=True)
    if done.returncode:
        raise SystemExit(f"manage.py make_ready failed:\n{done.stderr[-2000:]}")


@contextmanager
def live_page(before: bool = False) -> Iterator[Page]:
    """The list of sites in headless Chromium, signed in as the demo's user; or nothing yet, before anybody has signed in."""
    demo()
    server = LiveServer(DATABASE, str(STORE)).start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=server.address)
            if not before:
                page.goto("/")
                page.get_by_label("Name").fill("demo")
                page.get_by_label("Password").fill("tallow-lock")
                page.get_by_role("button", name="Sign in").click()
                page.get_by_label("Open Tallow Lock").wait_for()
            yield page
            browser.close()
    finally:
        server.stop()
        _database(f"DROP DATABASE IF EXISTS {DATABASE} WITH (FORCE)")


def frame_time(page: Page) -> float:
    """Milliseconds for one more frame of what is shown, the middle one of five."""
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
