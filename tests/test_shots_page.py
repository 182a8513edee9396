"""Shots in the browser: lenses, frames, walls that stay upright, and walking."""

from __future__ import annotations

import math

from browsing import BrowserCase, changed, wait_until
from playwright.sync_api import expect
from test_placing_page import SHOT, yard

from cenote.site.document import Shot


class ShotTests(BrowserCase):
    def test_a_lens_is_changed_in_millimetres_and_the_view_follows(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        before = self.canvas()
        page.get_by_label("Column").get_by_role("button", name=SHOT.name, exact=True).click()
        lens = page.get_by_label("Bench").get_by_role("textbox", name="Lens")
        lens.fill("85")
        lens.press("Enter")
        self.saved()
        self.assertEqual(self.document_of(site)["shots"][0]["lens"], 85)
        self.eventually(lambda: changed(before, self.glimpse()) > 0.3, "it is seen through the lens")
        upright = page.get_by_label("Bench").get_by_role("switch", name="Upright")
        upright.click()
        self.saved()
        self.assertTrue(self.document_of(site)["shots"][0]["upright"])
        # A switch that has the focus takes no text: undo is the page's.
        upright.press("Control+z")
        expect(upright).not_to_be_checked()
        page.get_by_role("button", name="Frame", exact=True).click()
        frame = page.get_by_test_id("frame").locator("> div")
        box, view = frame.bounding_box(), page.get_by_role("region", name="View").locator("canvas").bounding_box()
        assert box and view
        self.assertAlmostEqual(box["width"] / box["height"], 1.5, delta=0.01)
        self.assertAlmostEqual(box["height"], view["height"], delta=2)

    def test_one_walks_at_the_height_of_an_eye_and_keeps_what_is_seen(self) -> None:
        low = Shot(id="low", name="Low", position=(0, 0.5, 4), target=(0, 0.5, 0))
        site = self.make_site(yard(shots=(low,)))
        page = self.open_site(site)
        page.get_by_role("button", name="Walk", exact=True).click()
        page.keyboard.down("w")
        page.wait_for_timeout(2500)
        page.keyboard.up("w")
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Walk", exact=True)).to_have_attribute("aria-pressed", "false")
        page.get_by_role("button", name="Keep view").click()
        self.saved()
        kept = self.document_of(site)["shots"][1]
        x, y, z = kept["position"]
        self.assertLess(z, 3.8)
        self.assertAlmostEqual(x, 0, delta=0.05)
        # It was kept at the height that it had, near the ground.
        self.assertAlmostEqual(y, 0.5, delta=0.1)
        self.assertAlmostEqual(math.dist(kept["position"], kept["target"]), 4, delta=0.1)
        wait_until(page, "document.querySelector('canvas') !== null", 10)
