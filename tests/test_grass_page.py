"""Grass on the page: added as a preset, seen, mown, counted, and undone."""

from __future__ import annotations

import re

from browsing import BrowserCase, changed
from playwright.sync_api import expect

from cenote.site.document import Shot, SiteDocument
from cenote.site.ground import Ground

SHOT = Shot(id="near", position=(0.2, 0.7, 2.6), target=(0, 0.1, 0), lens=35)


class GrassTests(BrowserCase):
    def test_a_meadow_is_added_seen_mown_and_undone(self) -> None:
        site = self.make_site(SiteDocument(ground=Ground(size=(6, 6), spacing=0.5, relief=0), shots=(SHOT,)))
        page = self.page = self.open_site(site)
        page.wait_for_timeout(1500)
        before = self.canvas()
        page.get_by_role("button", name="Add grass").click()
        self.choose("Meadow")
        self.saved()
        (layer,) = self.document_of(site)["grass"]
        self.assertEqual((layer["name"], layer["surfaces"]), ("Meadow", ["ground"]))
        self.eventually(lambda: changed(before, self.canvas()) > 0.03, "blades are seen")
        expect(page.get_by_test_id("blade-count")).to_have_text(re.compile(r"\d+ k"))
        self.sound(page, "a layer of grass on the bench")
        tall = self.canvas()
        page.get_by_label("Bench").get_by_role("switch", name="Mown").click()
        self.eventually(lambda: self.document_of(site)["grass"][0]["mown"], "it is mown")
        self.eventually(lambda: changed(tall, self.canvas()) > 0.01, "it is seen to be shorter")
        for _ in range(2):
            page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.document_of(site)["grass"] == [], "it is undone")
        self.eventually(lambda: changed(before, self.canvas()) < 0.01, "nothing of it is seen any more")
