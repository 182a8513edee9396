"""Placing things in the view: handles, several at once, groups and locks, lines drawn for a parameter, dropping."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
from browsing import BrowserCase, wait_until
from playwright.sync_api import Page, expect

from cenote.site.document import KitPiece, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.building import Building
from cenote.structures.cable import Cable

SHOT = Shot(id="above", position=(0, 9, 7), target=(0, 0, 0), lens=29)


def yard(**more: Any) -> SiteDocument:
    """A flat piece of ground with two crates on it, seen from above."""
    crates = tuple(
        Structure(id=id, name=name, source=KitPiece(item="crate"), placement=Placement(position=(x, 0, 0)))
        for id, name, x in (("left", "Left crate", -1.5), ("right", "Right crate", 1.5))
    )
    values = {"ground": Ground(size=(9, 9), spacing=0.5, relief=0), "structures": crates, "shots": (SHOT,)}
    return SiteDocument(**(values | more))


class PlacingTests(BrowserCase):
    def on_screen(self, page: Page, point: tuple[float, float, float]) -> tuple[float, float]:
        """Where the shot shows a point of the world, in the page's pixels."""
        return self.seen_at(SHOT, point, page)

    def drag(self, page: Page, start: tuple[float, float, float], end: tuple[float, float, float]) -> None:
        """Drag from one point of the world to another."""
        page.mouse.move(*self.on_screen(page, start))
        page.mouse.down()
        page.mouse.move(*self.on_screen(page, end), steps=6)
        page.mouse.up()
        self.saved(page)

    def test_handles_slide_turn_and_lift(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        self.pick("Left crate")
        expect(page.get_by_label("What moved objects land on")).to_be_visible()
        page.wait_for_timeout(500)
        place = lambda: self.document_of(site)["structures"][0]["placement"]  # noqa: E731 - read again each time
        self.drag(page, (-1.5, 0, 0), (-2.2, 0, 1.6))
        x, y, z = place()["position"]
        self.assertLess(math.hypot(x + 2.2, z - 1.6), 0.12)
        self.assertAlmostEqual(y, 0, delta=0.02)
        page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: place()["position"] == [-1.5, 0, 0], "undone")
        page.wait_for_timeout(800)
        # The circle is as large as a fixed share of the view, so its radius follows from the distance.
        radius = 2 * math.dist(SHOT.position, (-1.5, 0, 0)) * math.tan(math.radians(45 / 2)) * 0.11 * 1.15
        turned = math.radians(30)
        self.drag(page, (-1.5 + radius, 0, 0), (-1.5 + radius * math.cos(turned), 0, -radius * math.sin(turned)))
        self.assertEqual(place()["turn"], 30)
        self.assertEqual(place()["position"], [-1.5, 0, 0])
        stem = radius / 1.15 * 1.6
        self.drag(page, (-1.5, stem, 0), (-1.5, stem + 0.8, 0))
        self.assertAlmostEqual(place()["position"][1], 0.8, delta=0.08)
        page.get_by_role("button", name="Set down").click()
        self.eventually(lambda: abs(place()["position"][1]) < 0.01, "set down on the ground")

    def test_an_object_lands_on_what_is_under_the_pointer(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        self.pick("Left crate")
        page.wait_for_timeout(500)
        height = float(self.top_of(site))
        self.drag(page, (-1.5, 0, 0), (1.5, height, 0))
        x, y, _ = self.document_of(site)["structures"][0]["placement"]["position"]
        self.assertAlmostEqual(x, 1.5, delta=0.3)
        self.assertAlmostEqual(y, height, delta=0.06)

    @staticmethod
    def top_of(site: Any) -> float:
        """How high a crate is."""
        from cenote.kit.shelf import SHIPPED

        return SHIPPED.mesh("crate", 0).bounds[1, 1]

    def test_several_are_picked_grouped_locked_copied_and_deleted(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        column = page.get_by_label("Column")
        self.pick("Left crate")
        column.get_by_role("button", name="Right crate", exact=True).click(modifiers=["Shift"])
        bench = page.get_by_label("Bench")
        expect(bench.get_by_text("2 objects", exact=True)).to_be_visible()
        bench.get_by_role("button", name="Group", exact=True).click()
        bench.get_by_label("Group").fill("Crates")
        bench.get_by_label("Group").press("Enter")
        self.saved()
        self.assertEqual([one["group"] for one in self.document_of(site)["structures"]], ["Crates", "Crates"])
        column.get_by_label("Find a layer").fill("crates")
        expect(column.get_by_role("button", name="Right crate", exact=True)).to_be_visible()
        column.get_by_label("Find a layer").fill("")
        column.get_by_role("button", name="Fold Crates").click()
        expect(column.get_by_role("button", name="Right crate", exact=True)).not_to_be_visible()
        column.get_by_role("button", name="Hide group Crates").click()
        self.saved()
        self.assertEqual([one["shown"] for one in self.document_of(site)["structures"]], [False, False])
        column.get_by_role("button", name="Show group Crates").click()
        bench.get_by_role("button", name="Duplicate").click()
        self.saved()
        structures = self.document_of(site)["structures"]
        self.assertEqual([one["name"] for one in structures[2:]], ["Left crate 2", "Right crate 2"])
        bench.get_by_label("Along y", exact=True).fill("1")
        bench.get_by_label("Along y", exact=True).press("Enter")
        bench.get_by_role("button", name="Move them").click()
        self.saved()
        self.assertEqual(
            [one["placement"]["position"][1] for one in self.document_of(site)["structures"]], [0, 0, 1, 1]
        )
        bench.get_by_role("button", name="Delete").click()
        self.saved()
        self.assertEqual(len(self.document_of(site)["structures"]), 2)
        column.get_by_role("button", name="Unfold Crates").click()
        self.pick("Left crate")
        bench.get_by_role("button", name="Lock", exact=True).click()
        self.saved()
        page.wait_for_timeout(500)
        # A locked one has no handles, and lets the pointer through.
        self.pick("Right crate")
        page.mouse.click(*self.on_screen(page, (-1.5, 0.4, 0)))
        expect(column.get_by_role("button", name="Ground", exact=True)).to_have_attribute("aria-pressed", "true")
        page.mouse.click(*self.on_screen(page, (1.5, 0.4, 0)))
        expect(column.get_by_role("button", name="Right crate", exact=True)).to_have_attribute("aria-pressed", "true")

    def test_keys_move_what_is_picked_in_one_step(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        page.mouse.click(*self.on_screen(page, (-1.5, 0.4, 0)))
        # What is seen to be picked is what the keys move.
        picked = page.get_by_label("Column").get_by_role("button", name="Left crate", exact=True)
        expect(picked).to_have_attribute("aria-pressed", "true")
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        page.keyboard.press(",")
        self.saved()
        placement = self.document_of(site)["structures"][0]["placement"]
        self.assertEqual((placement["position"], placement["turn"]), ([-1.35, 0, 0], 5))
        page.get_by_role("button", name="Undo").click()
        self.eventually(
            lambda: self.document_of(site)["structures"][0]["placement"]["position"] == [-1.5, 0, 0], "one step"
        )
        page.keyboard.press("Delete")
        self.eventually(lambda: len(self.document_of(site)["structures"]) == 1, "deleted")


class DrawingTests(PlacingTests):
    # What is shared is inherited; its tests run once.
    test_handles_slide_turn_and_lift = None  # type: ignore[assignment]
    test_an_object_lands_on_what_is_under_the_pointer = None  # type: ignore[assignment]
    test_several_are_picked_grouped_locked_copied_and_deleted = None  # type: ignore[assignment]
    test_keys_move_what_is_picked_in_one_step = None  # type: ignore[assignment]

    def test_a_footprint_is_drawn_and_one_that_crosses_itself_is_kept_to_be_mended(self) -> None:
        house = Structure(
            id="house", name="House", source=Made(maker=Building(size=(2, 2), roof="flat", storeys=1, walls=0.1)),
            placement=Placement(position=(0.5, 0, 0.5)),
        )  # fmt: skip
        site = self.make_site(yard(structures=(house,)))
        page = self.open_site(site)
        self.pick("House")
        page.get_by_role("button", name="Draw in the view: outline").click()
        bar = page.get_by_label("Drawing")
        expect(bar.get_by_role("button", name="Finish")).to_be_disabled()
        # An hourglass: its sides cross.
        for x, z in ((-3, 3), (3, 3), (-3, 1.8), (3, 1.8)):
            page.mouse.click(*self.on_screen(page, (x, 0, z)))
        bar.get_by_role("button", name="Finish").click()
        expect(page.get_by_text("What you drew is kept")).to_be_visible()
        bar.get_by_role("button", name="Take one back").click()
        bar.get_by_role("button", name="Take one back").click()
        expect(bar.get_by_text("2 so far")).to_be_visible()
        for x, z in ((3, 1.8), (-3, 1.8)):
            page.mouse.click(*self.on_screen(page, (x, 0, z)))
        page.keyboard.press("Enter")
        expect(bar).not_to_be_visible()
        self.saved()
        maker = self.document_of(site)["structures"][0]["source"]["maker"]
        self.assertEqual(maker["footprint"], "drawn")
        np.testing.assert_allclose(maker["outline"], [[-3.5, 2.5], [2.5, 2.5], [2.5, 1.3], [-3.5, 1.3]], atol=0.06)

    def test_a_rope_is_hung_between_two_places_that_are_picked(self) -> None:
        rope = Structure(
            id="rope", name="Rope", source=Made(maker=Cable(sag=0)), placement=Placement(position=(0, 0, 2))
        )
        site = self.make_site(yard(structures=(*yard().structures, rope)))
        page = self.open_site(site)
        self.pick("Rope")
        for name, point in (("start", (-2, 0, 3)), ("end", (2, 0, 2.5))):
            page.get_by_role("button", name=f"Pick in the view: {name}").click()
            page.mouse.click(*self.on_screen(page, point))
            expect(page.get_by_label("Drawing")).not_to_be_visible()
            self.saved()
        maker = self.document_of(site)["structures"][2]["source"]["maker"]
        np.testing.assert_allclose(maker["start"], [-2, 0, 1], atol=0.06)
        np.testing.assert_allclose(maker["end"], [2, 0, 0.5], atol=0.06)

    def test_lists_and_texts_have_forms(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        page.get_by_label("Add a structure").click()
        self.choose("Sign")
        self.saved()
        words = page.get_by_label("Text", exact=True)
        words.fill("Two\nlines")
        words.blur()
        self.saved()
        self.assertEqual(self.document_of(site)["structures"][-1]["source"]["maker"]["text"], "Two\nlines")
        page.get_by_label("Add a structure").click()
        self.choose("Building")
        self.saved()
        facades = page.get_by_role("group", name="Facades")
        rows = facades.get_by_role("combobox", name="Opening")
        before = rows.count()
        facades.get_by_role("button", name="Delete facades 1").click()
        expect(rows).to_have_count(before - 1)
        facades.get_by_role("button", name="Add to facades").click()
        expect(rows).to_have_count(before)
        rows.last.click()
        page.get_by_role("option", name="Wide door").click()
        self.saved()
        found = self.document_of(site)["structures"][-1]["source"]["maker"]["facades"]
        self.assertEqual([one["opening"] for one in found], ["window", "window", "balcony", "wide door"])

    def test_a_heap_is_dropped_watched_and_taken_apart(self) -> None:
        site = self.make_site(yard())
        page = self.open_site(site)
        page.get_by_label("Add a structure").click()
        self.choose("Drop a heap of planks in view")
        expect(page.get_by_text("12 things lie in a heap.")).to_be_visible()
        # Few things may have come to rest before the page has drawn them once; many are seen on their way.
        number = page.get_by_label("Bench").get_by_role("textbox", name=re.compile("^Number")).first
        number.fill("70")
        number.press("Enter")
        page.get_by_role("button", name="Drop again: 70 things").click()
        wait_until(page, "performance.getEntriesByName('cenote-falling').some((mark) => mark.detail.pieces > 3)", 90)
        expect(page.get_by_text("things lie in a heap").filter(has_text=re.compile("^(6|70)"))).to_be_visible()
        for _ in range(2):
            page.get_by_role("button", name="Undo").click()
            self.saved()
        self.eventually(
            lambda: len(self.document_of(site)["structures"][-1]["source"]["pieces"]) == 12, "the first heap is back"
        )
        heap = self.document_of(site)["structures"][-1]
        self.assertEqual((heap["name"], len(heap["source"]["pieces"])), ("Heap", 12))
        expect(page.get_by_role("button", name="Drop again: 12 things")).to_be_visible()
        page.get_by_role("button", name="Make single objects of its pieces").click()
        self.saved()
        structures = self.document_of(site)["structures"]
        self.assertEqual(len(structures), 14)
        self.assertEqual({one["group"] for one in structures[2:]}, {"Heap"})
