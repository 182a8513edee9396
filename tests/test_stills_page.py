"""Stills in the browser: taken, seen while they come, gone on with and deleted."""

from __future__ import annotations

import re

import numpy as np
from browsing import BrowserCase
from playwright.sync_api import Locator, expect
from test_placing_page import SHOT, yard

# The mean of all values of a picture, 0 to 255.
BRIGHTNESS = """(one) => {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 32;
  canvas.getContext('2d').drawImage(one, 0, 0, 32, 32);
  const values = canvas.getContext('2d').getImageData(0, 0, 32, 32).data;
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}"""


# What of the view is the shot's picture, and of a picture all: as so many by so many values from 0 to 255.
PIXELS = """(one, [columns, rows, ratio]) => {
  const canvas = document.createElement('canvas');
  const [wide, high] = [one.naturalWidth || one.width, one.naturalHeight || one.height];
  const [width, height] = [Math.min(wide, high * ratio), Math.min(high, wide / ratio)];
  canvas.width = columns; canvas.height = rows;
  const context = canvas.getContext('2d');
  context.imageSmoothingQuality = 'high';
  context.drawImage(one, (wide - width) / 2, (high - height) / 2, width, height, 0, 0, columns, rows);
  return Array.from(context.getImageData(0, 0, columns, rows).data);
}"""
COLUMNS, ROWS = 48, 32


class StillsPageTests(BrowserCase):
    def agree(self, still: Locator) -> None:
        """The view's picture and a still of the same shot: edges in the same places, and parts of about the same colour."""
        self.canvas()
        seen, traced = (
            np.array(one.evaluate(PIXELS, [COLUMNS, ROWS, 3 / 2]), float).reshape(ROWS, COLUMNS, 4)[..., :3]
            for one in (self.page.locator("canvas").first, still)
        )
        edges = [np.abs(np.diff(one.mean(2), axis=1)).ravel() for one in (seen, traced)]
        self.assertGreater(np.corrcoef(*edges)[0, 1], 0.75, "edges lie in the same places")
        parts = [one.reshape(4, ROWS // 4, 6, COLUMNS // 6, 3).mean((1, 3)) for one in (seen, traced)]
        apart = np.abs(parts[0] - parts[1])
        self.assertLess(apart.max(), 20, "each of 24 parts has about the same colour, of 255")
        self.assertLess(apart.mean(), 10)

    def test_a_test_is_taken_seen_finished_and_deleted(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        page.get_by_role("button", name="Stills", exact=True).click()
        dialog = page.get_by_role("dialog", name="Stills")
        dialog.get_by_role("button", name="Take a test").click()
        picture = dialog.get_by_role("img", name="Still of")
        expect(picture).to_be_visible(timeout=120_000)
        expect(dialog.get_by_role("button", name="Go on to 16")).to_be_visible(timeout=120_000)
        self.agree(picture)
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
