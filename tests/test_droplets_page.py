"""Drops on the page: added as presets, seen in the view, counted on the bench, dried by the dial."""

from __future__ import annotations

import re

from browsing import BrowserCase, changed
from playwright.sync_api import expect

from cenote.site.document import Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.turned_pieces import Bell
from cenote.weather.climate import Climate

SHOT = Shot(id="near", position=(0.1, 0.3, 0.55), target=(0, 0.12, 0), lens=40)


def bell() -> SiteDocument:
    """A small bell on level ground, seen from near."""
    one = Structure(id="bell", name="Bell", source=Made(maker=Bell(height=0.18)), placement=Placement())
    return SiteDocument(
        ground=Ground(size=(3, 3), spacing=0.5, relief=0), structures=(one,), shots=(SHOT,), climate=Climate(damp=0.9)
    )


class DropletTests(BrowserCase):
    def test_a_shower_is_added_seen_counted_and_undone(self) -> None:
        site = self.make_site(bell())
        page = self.page = self.open_site(site)
        page.wait_for_timeout(1500)
        before = self.canvas()
        page.get_by_role("button", name="Add drops").click()
        self.choose("A shower just past")
        self.saved()
        layers = self.document_of(site)["droplets"]
        self.assertEqual([one["droplets"]["kind"] for one in layers], ["beads", "hanging"])
        self.assertEqual(layers[0]["surfaces"], ["bell"])
        costs = page.get_by_role("list", name="What they come to")
        expect(costs.get_by_role("listitem")).to_contain_text("Bell:")
        self.eventually(lambda: changed(before, self.canvas()) > 0.004, "drops are seen on the bell")
        self.sound(page, "a layer of drops on the bench")
        # More of them by the number's own field.
        number = page.get_by_label("Bench").get_by_role("textbox", name=re.compile("^Number")).first
        number.fill("12")
        number.press("Enter")
        self.eventually(lambda: self.document_of(site)["droplets"][0]["droplets"]["number"] == 12, "there are more")
        for _ in range(2):
            page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.document_of(site)["droplets"] == [], "it is undone")

    def test_running_drops_are_scrubbed_to_a_moment(self) -> None:
        site = self.make_site(bell())
        page = self.page = self.open_site(site)
        page.get_by_role("button", name="Add drops").click()
        self.choose("Running drops alone")
        self.saved()
        after = page.get_by_label("Bench").get_by_role("textbox", name=re.compile("^After")).first
        after.fill("1.5")
        after.press("Enter")
        self.eventually(lambda: self.document_of(site)["droplets"][0]["droplets"]["after"] == 1.5, "a moment is set")
        expect(page.get_by_role("list", name="What they come to").get_by_role("listitem")).to_contain_text("drops")
