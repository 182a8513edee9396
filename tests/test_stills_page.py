"""Stills in the browser: taken, seen while they come, gone on with and deleted."""

from __future__ import annotations

from browsing import BrowserCase
from playwright.sync_api import expect
from test_placing_page import yard


class StillsPageTests(BrowserCase):
    def test_a_test_is_taken_seen_and_deleted(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        page.get_by_role("button", name="Stills", exact=True).click()
        dialog = page.get_by_role("dialog", name="Stills")
        dialog.get_by_role("button", name="Take a test").click()
        picture = dialog.get_by_role("img", name="Still of")
        expect(picture).to_be_visible(timeout=120_000)
        expect(dialog.get_by_role("button", name="Go on to 16")).to_be_visible(timeout=120_000)
        part = dialog.get_by_test_id("marked")
        box = picture.bounding_box()
        assert box
        page.mouse.move(box["x"] + 40, box["y"] + 40)
        page.mouse.down()
        page.mouse.move(box["x"] + 240, box["y"] + 180, steps=4)
        page.mouse.up()
        expect(part).to_be_visible()
        dialog.get_by_role("button", name="All of it").click()
        expect(part).to_be_hidden()
        self.assertEqual(picture.evaluate("one => one.naturalWidth"), 640)
        dialog.get_by_role("button", name="Delete").click()
        expect(dialog.get_by_text("None taken yet")).to_be_visible()
