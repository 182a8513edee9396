"""What axe-core finds on every screen: nothing."""

from __future__ import annotations

from typing import Any

from browsing import BrowserCase
from django.conf import settings
from helpers import small_document
from playwright.sync_api import Page, expect

AXE = (settings.ROOT / "web/node_modules/axe-core/axe.min.js").read_text()


class AccessibilityTests(BrowserCase):
    def sound(self, page: Page, screen: str, within: str = "body") -> None:
        """Fail with what axe finds within a part of the page."""
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

    def test_signing_in_and_the_list_of_sites(self) -> None:
        page = self.page
        self.make_site(small_document())
        page.reload()
        expect(page.get_by_role("heading", name="Yard")).to_be_visible()
        self.sound(page, "sites")
        page.get_by_role("button", name="New site").click()
        page.wait_for_timeout(400)
        self.sound(page, "new site")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        self.sound(page, "signing in")

    def test_a_site_and_each_kind_of_bench(self) -> None:
        page = self.open_site(self.make_site(small_document()))
        self.sound(page, "overview")
        for name in ("Ground", "Light", "Water & air", "Moss", "Growth"):
            self.pick(name)
            page.wait_for_timeout(600)
            self.sound(page, f"bench of {name}")
        for name in ("Add a scatter", "Add a cover", "Add a structure"):
            opener = page.get_by_role("button", name=name, exact=True)
            if opener.count():
                opener.first.click()
                page.wait_for_timeout(400)
                self.sound(page, name)
                page.keyboard.press("Escape")
                page.wait_for_timeout(400)

    def test_kit_materials_and_export(self) -> None:
        page = self.open_site(self.make_site(small_document()))
        for name in ("Kit", "Materials", "Export"):
            page.get_by_role("button", name=name, exact=True).click()
            page.wait_for_timeout(2500)
            self.sound(page, name)
            page.keyboard.press("Escape")
            page.wait_for_timeout(500)
