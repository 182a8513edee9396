"""Stills in the browser: taken, seen while they come, gone on with and deleted."""

from __future__ import annotations

import re

from browsing import BrowserCase
from playwright.sync_api import expect
from test_placing_page import SHOT, yard

# The mean of all values of a picture, 0 to 255.
BRIGHTNESS = """(one) => {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 32;
  canvas.getContext('2d').drawImage(one, 0, 0, 32, 32);
  const values = canvas.getContext('2d').getImageData(0, 0, 32, 32).data;
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}"""


class StillsPageTests(BrowserCase):
    def test_a_test_is_taken_seen_finished_and_deleted(self) -> None:
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
        dialog.get_by_role("button", name="Close").click()
        self.pick(SHOT.name)
        page.get_by_role("button", name="Still", exact=True).click()
        taken = page.get_by_role("img", name="as it was taken")
        expect(taken).to_be_visible()
        bench = page.get_by_label("Bench")
        bench.get_by_role("combobox", name="Finish").click()
        page.get_by_role("option", name="A new one").click()
        bench.get_by_role("button", name="Add a step").click()
        page.get_by_role("menuitem", name="Exposure").click()
        stops = bench.get_by_role("textbox", name=re.compile("^Stops"))
        stops.fill("1.5")
        stops.press("Enter")
        self.saved()
        finished = page.get_by_role("img", name=", finished")
        self.eventually(
            lambda: finished.count() > 0 and finished.evaluate(BRIGHTNESS) > taken.evaluate(BRIGHTNESS) + 15,
            "the finished still is brighter",
        )
        self.sound(page, "a finish")
        page.get_by_role("slider", name="How much is shown as it was taken").press("End")
        self.assertIn("inset", finished.evaluate("one => one.style.clipPath"))
        page.get_by_role("button", name="Lit", exact=True).click()
        page.get_by_role("button", name="Stills", exact=True).click()
        dialog.get_by_role("button", name="Write it").click()
        expect(dialog.get_by_role("link", name="Fetch the file")).to_be_visible(timeout=120_000)
        dialog.get_by_role("button", name="Delete").click()
        expect(dialog.get_by_text("None taken yet")).to_be_visible()
