"""The real page in Debian's Chromium, on a real server with a real worker, against the tests' database."""

from __future__ import annotations

import os
import sys
import time
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import global_settings, settings
from django.contrib.auth import get_user_model
from django.core.management import CommandError
from django.db import connection
from django.test import TransactionTestCase, override_settings
from playwright.sync_api import Browser, Error, Page, expect, sync_playwright

sys.path.insert(0, str(settings.ROOT))
for folder in ("server", "core"):
    sys.path.insert(0, str(settings.ROOT / folder / "tests"))

from cenote.derive.graph import Graph
from cenote.derive.wanted import fields_of_site
from cenote.site.document import Shot, SiteDocument
from config.runner import at_end
from launch.live import CHROMIUM, CHROMIUM_ARGUMENTS, LiveServer, wait_until
from sites.models import Site
from store.blobs import shared_cache

PASSWORD = "a long enough secret"
SHOTS = os.environ.get("CENOTE_SHOTS", "")
# When a wait has become a hang, in seconds; no measure of speed. The page is drawn by the processor, beside the server
# and the worker, on two cores that others may be using too.
HANGS = 420
AXE = (settings.ROOT / "web/node_modules/axe-core/axe.min.js").read_text()
expect.set_options(timeout=HANGS * 1000)

# How often it is tried to empty the tables after a test.
_TRIALS = 20

_shared: dict[str, Any] = {}


def live() -> LiveServer:
    """One server and one worker for all browser tests of a run."""
    if "server" not in _shared:
        _shared["server"] = LiveServer(connection.settings_dict["NAME"], os.environ["CENOTE_STORE"]).start()
    return _shared["server"]


def browser() -> Browser:
    """One browser for all browser tests of a run."""
    if "browser" not in _shared:
        playwright = sync_playwright().start()
        _shared["browser"] = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
        _shared["playwright"] = playwright
    return _shared["browser"]


def close_all() -> None:
    """Stop browser, server and worker."""
    for name, end in (("browser", "close"), ("playwright", "stop"), ("server", "stop")):
        if name in _shared:
            getattr(_shared.pop(name), end)()


at_end.append(close_all)


class BrowserCase(TransactionTestCase):
    """A user of their own, signed in, at the list of sites. The page must not complain in its console."""

    available_apps = None
    serialized_rollback = False

    def setUp(self) -> None:
        self.server = live()
        self.name = f"user-{uuid.uuid4().hex[:8]}"
        # The server is a process of its own, and knows the hashes of the product alone.
        with override_settings(PASSWORD_HASHERS=global_settings.PASSWORD_HASHERS):
            self.account = get_user_model().objects.create_user(username=self.name, password=PASSWORD)
        self.complaints: list[str] = []
        self.context = browser().new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
        self.page = self.open_page()
        self.sign_in(self.page)

    def tearDown(self) -> None:
        if SHOTS:
            self.picture("end")
        self.context.close()
        self.assertEqual(self.complaints, [], "the page complained in its console")

    def _callTestMethod(self, method: Callable[[], None]) -> None:
        try:
            method()
        except Exception as error:
            error.add_note(self.what_is_seen())
            raise

    def what_is_seen(self) -> str:
        """What the pages show to a screen reader, for whoever reads why a test failed."""
        seen = []
        for page in self.context.pages:
            try:
                seen.append(f"{page.url}\n{page.locator('body').aria_snapshot(timeout=10_000)}")
            except Error as error:
                seen.append(str(error))
        return "\n".join(seen)

    def _fixture_teardown(self) -> None:
        # Tables are emptied while server and worker still read some of them: who waits for one another may both be
        # right, and then the database ends one of them.
        for trial in range(_TRIALS):
            try:
                super()._fixture_teardown()
                return
            except CommandError:
                if trial == _TRIALS - 1:
                    raise
                time.sleep(0.5)

    def open_page(self) -> Page:
        """Another tab of the same browser."""
        page = self.context.new_page()
        page.set_default_timeout(HANGS * 1000)
        page.on("pageerror", lambda error: self.complaints.append(str(error)[:400]))
        page.on(
            "console",
            lambda message: self.complaints.append(message.text[:400]) if self._is_complaint(message) else None,
        )
        return page

    @staticmethod
    def _is_complaint(message: Any) -> bool:
        # Refusals that a test asks for are logged by the browser itself, by their status.
        return message.type == "error" and not message.text.startswith("Failed to load resource")

    def sign_in(self, page: Page) -> None:
        """Sign in as this test's user."""
        page.goto(self.server.address)
        page.get_by_label("Name").fill(self.name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Sites")).to_be_visible()

    def make_site(self, document: SiteDocument | dict[str, Any], name: str = "Yard") -> Site:
        """A site of this test's user, measured ahead."""
        model = document if isinstance(document, SiteDocument) else SiteDocument.model_validate(document)
        graph = Graph(model, shared_cache())
        graph.complete(fields_of_site(graph), lambda *_: None)
        return Site.objects.create(owner=self.account, name=name, document=model.model_dump(mode="json"))

    def open_site(self, site: Site, page: Page | None = None) -> Page:
        """Open a site and wait for the first frame that shows all of it, and for its sky: what the view shows stays as it is then."""
        page = page or self.page
        page.goto(f"{self.server.address}/sites/{site.pk}")
        for what in ("site", "sky"):
            wait_until(page, f"performance.getEntriesByName('cenote-{what}-shown').length > 0", 240)
        return page

    def pick(self, name: str, page: Page | None = None) -> None:
        """Pick a layer in the column."""
        row = (page or self.page).get_by_label("Column").get_by_role("button", name=name, exact=True)
        row.click()
        expect(row).to_have_attribute("aria-pressed", "true")

    def choose(self, entry: str, page: Page | None = None) -> None:
        """Press an entry of a menu that opens; while the processor draws a frame a press may go nowhere, and is then given again."""
        item = (page or self.page).get_by_role("menuitem", name=entry, exact=True)
        item.click()
        try:
            expect(item).not_to_be_visible(timeout=10_000)
        except AssertionError:
            item.click()

    def seen_at(self, shot: Shot, point: tuple[float, float, float], page: Page | None = None) -> tuple[float, float]:
        """Where a shot shows a point of the world, in the page's pixels."""
        box = (page or self.page).get_by_role("region", name="View").locator("canvas").bounding_box()
        assert box is not None
        view = shot.camera()
        way = np.array(point) - view.eye
        scale = box["height"] / 2 / view.height / (way @ view.ahead)
        right = np.cross(view.ahead, view.up)
        return (
            box["x"] + box["width"] / 2 + float(way @ right) * scale,
            box["y"] + box["height"] / 2 - float(way @ view.up) * scale,
        )

    def saved(self, page: Page | None = None) -> None:
        """Wait until the page says that all is saved."""
        page = page or self.page
        try:
            expect(page.get_by_label("Saving")).to_have_text("All saved")
        except AssertionError as error:
            told = page.get_by_role("alert").all_inner_texts()
            raise AssertionError(f"{error}\nit tells: {told}\n{self.server.log()[-6000:]}") from None

    def document_of(self, site: Site) -> dict[str, Any]:
        """The document as the database has it."""
        site.refresh_from_db()
        return site.document

    def eventually(self, check: Callable[[], bool], what: str) -> None:
        """Wait until a check holds."""
        deadline = time.monotonic() + HANGS
        told: list[str] = []
        while not check():
            # What was refused is told for some seconds only.
            told += [one for one in self._told() if one not in told]
            self.assertLess(
                time.monotonic(),
                deadline,
                f"it did not come about: {what}\nit told: {told}\n{self.server.log()[-6000:]}",
            )
            time.sleep(0.15)

    def _told(self) -> list[str]:
        """What the page says is wrong; nothing where it is going away in this moment."""
        try:
            return self.page.get_by_role("alert").all_inner_texts()
        except Error:
            return []

    def number(self, test_id: str, page: Page | None = None) -> float:
        """A figure shown on the bench; NaN while it is not there yet."""
        text = (page or self.page).get_by_test_id(test_id).inner_text().replace(",", "")
        return float(text) if text not in ("…", "") else float("nan")

    def glimpse(self, page: Page | None = None) -> bytes:
        """The view's pixels as they are at this moment."""
        read = """() => {
          const canvas = document.querySelector('canvas'), small = document.createElement('canvas');
          small.width = 128; small.height = 64;
          small.getContext('2d').drawImage(canvas, 0, 0, 128, 64);
          return Array.from(small.getContext('2d').getImageData(0, 0, 128, 64).data);
        }"""
        return bytes((page or self.page).evaluate(read))

    def looks_different(self, before: bytes, by: float) -> None:
        """Wait until the view has changed by more than a share: it may rest for a moment while what it becomes is composed."""
        self.eventually(lambda: changed(before, self.glimpse()) > by, f"the view changes by more than {by}")

    def canvas(self, page: Page | None = None) -> bytes:
        """The view's pixels, once they have stopped changing."""
        page = page or self.page
        last, deadline = None, time.monotonic() + HANGS
        while time.monotonic() < deadline:
            now = self.glimpse(page)
            if now == last:
                return now
            last = now
            page.wait_for_timeout(1500)
        raise AssertionError("the view does not come to rest")

    def sound(self, page: Page, screen: str, within: str = "body") -> None:
        """Fail with what axe finds within a part of the page that people could not use."""
        page.evaluate(AXE)
        found: list[dict[str, Any]] = page.evaluate(
            """async (within) => (await axe.run(document.querySelector(within), { resultTypes: ['violations'] })).violations
              .map(({ id, help, nodes }) => ({ id, help, nodes: nodes.map(({ html, any, all }) =>
                [html.slice(0, 200), ...[...any, ...all].map(({ message }) => message.slice(0, 200))].join(' | ')) }))""",
            within,
        )
        for one in found:
            for node in one["nodes"]:
                with self.subTest(f"{screen}: {one['id']}"):
                    self.fail(f"{one['help']}: {node}")

    def picture(self, name: str) -> None:
        """Keep a picture of the page where CENOTE_SHOTS names a folder."""
        if SHOTS:
            self.page.screenshot(path=str(Path(SHOTS) / f"{self.id().split('.')[-1]}-{name}.png"))


def changed(before: bytes, after: bytes) -> float:
    """The share of pixels that differ clearly between two pictures of the view."""
    pairs = zip(before[::4], after[::4], strict=True)
    return sum(abs(a - b) > 6 for a, b in pairs) / (len(before) / 4)
