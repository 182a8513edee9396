"""Planting by hand in the page: sowing and thinning, planting one by one, picking, rows, keeping clear, zones, the probe."""

from __future__ import annotations

import re

from browsing import BrowserCase, changed
from playwright.sync_api import Locator, expect

from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import Shot, SiteDocument
from cenote.site.ground import Ground

SHOT = Shot(id="above", position=(0, 9, 7), target=(0, 0, 0), lens=29)
BARE = Scatter(id="stones", name="Stones", density=0, spacing=0.2, mix=(MixItem(item="stone"), MixItem(item="crate")))


def site_with(layer: Scatter) -> SiteDocument:
    """A flat piece of ground with one layer, seen from above."""
    return SiteDocument(ground=Ground(size=(9, 9), spacing=0.5, relief=0), planting=(layer,), shots=(SHOT,))


class PlantingTests(BrowserCase):
    def open_layer(self, layer: Scatter) -> None:
        self.site = self.make_site(site_with(layer))
        self.open_site(self.site)
        self.pick(layer.name)
        expect(self.page.get_by_test_id("item-count")).not_to_have_text("…")

    @property
    def layer(self) -> dict:
        return self.document_of(self.site)["planting"][0]

    def number_field(self, name: str) -> Locator:
        return self.page.get_by_label("Bench").get_by_role("textbox", name=re.compile(f"^{name}")).first

    def tool(self, name: str) -> None:
        button = self.page.get_by_label("Bench").get_by_role("button", name=name, exact=True)
        button.scroll_into_view_if_needed()
        button.click()

    def count(self, check, what: str) -> None:
        self.eventually(lambda: check(self.number("item-count")), what)

    def test_one_is_planted_where_it_is_clicked_and_picked_again(self) -> None:
        self.open_layer(BARE)
        self.tool("Plant one")
        for x in (-1.5, 0.0, 1.5):
            self.page.mouse.click(*self.seen_at(SHOT, (x, 0, 0.5)))
            self.saved()
        self.count(lambda number: number == 3, "three are shown")
        meter = self.page.get_by_label("Bench").get_by_role("meter")
        expect(meter).to_have_attribute("aria-valuetext", re.compile(r"of 3 million triangles$"))
        planted = self.layer["planted"]
        self.assertEqual([one["item"] for one in planted], ["stone", "crate", "stone"])
        for one, x in zip(planted, (-1.5, 0.0, 1.5), strict=True):
            self.assertLess(abs(one["position"][0] - x) + abs(one["position"][2] - 0.5), 0.1)
        self.tool("Pick")
        self.page.mouse.click(*self.seen_at(SHOT, (0, 0.08, 0.5)))
        expect(self.page.get_by_test_id("picked-items")).to_have_text("Crate")
        self.number_field("Size").fill("2")
        self.number_field("Size").press("Enter")
        self.eventually(lambda: self.layer["planted"][1]["size"] == 2, "it is larger")
        self.page.get_by_role("button", name="Delete items").click()
        self.count(lambda number: number == 2, "two are left")
        self.page.get_by_role("button", name="Undo").click()
        self.count(lambda number: number == 3, "it is back")

    def test_what_is_taken_away_by_a_loop_stays_away_when_rules_change(self) -> None:
        self.open_layer(BARE.model_copy(update={"density": 2.0}))
        before = self.number("item-count")
        self.tool("Loop")
        corners = [self.seen_at(SHOT, point) for point in ((-2, 0, -1), (2, 0, -1), (2, 0, 2), (-2, 0, 2), (-2, 0, -1))]
        self.page.mouse.move(*corners[0])
        self.page.mouse.down()
        for corner in corners[1:]:
            self.page.mouse.move(*corner, steps=5)
        self.page.mouse.up()
        expect(self.page.get_by_test_id("picked-items")).to_contain_text("items picked")
        self.page.get_by_role("button", name="Delete items").click()
        self.count(lambda number: number < before - 8, "those inside are gone")
        removed = self.layer["removed"]
        self.assertEqual(len(removed), before - self.number("item-count"))
        self.number_field("Density").fill("3")
        self.number_field("Density").press("Enter")
        self.count(lambda number: number > before - len(removed) + 30, "more are shown")
        self.assertEqual(self.layer["removed"], removed)

    def stroke(self) -> None:
        """Draw a brush from one side to the other, and wait until that is saved."""
        self.page.mouse.move(*self.seen_at(SHOT, (-2.5, 0, 0)))
        self.page.mouse.down()
        for k in range(1, 9):
            self.page.mouse.move(*self.seen_at(SHOT, (-2.5 + k * 0.6, 0, 0)))
        self.page.mouse.up()
        self.saved()

    def test_sowing_and_thinning_by_strokes(self) -> None:
        self.open_layer(BARE.model_copy(update={"density": 6.0, "spacing": 0.15}))
        before = self.number("item-count")
        self.tool("Thin")
        self.stroke()
        self.count(lambda number: number < before - 15, "fewer are shown")
        (stroke,) = self.layer["strokes"]
        self.assertFalse(stroke["adds"])
        self.assertGreater(len(stroke["path"]), 3)
        thinned = self.number("item-count")
        self.tool("Sow")
        self.stroke()
        self.count(lambda number: number > thinned + 10, "more are shown")
        self.assertEqual([stroke["adds"] for stroke in self.layer["strokes"]], [False, True])
        for left, number in ((1, thinned), (0, before)):
            self.page.get_by_role("button", name="Undo").click()
            self.count(lambda shown, number=number: shown == number, "a stroke is undone in one step")
            self.assertEqual(len(self.layer["strokes"]), left)

    def test_a_row_is_set_along_a_drawn_line(self) -> None:
        self.open_layer(BARE)
        self.tool("Set a row")
        for point in ((-2.05, 0, 1), (2.05, 0, 1)):
            self.page.mouse.click(*self.seen_at(SHOT, point))
        self.page.get_by_label("Drawing").get_by_role("button", name="Finish").click()
        self.count(lambda number: number == 5, "one a metre")
        (row,) = self.layer["rows"]
        self.assertEqual(row["by"], "spacing")
        spacing = self.page.get_by_role("group", name="Row 1").get_by_role("textbox", name=re.compile("^Spacing"))
        spacing.fill("0.5")
        spacing.press("Enter")
        self.count(lambda number: number in (8, 9), "twice as many")

    def test_a_zone_is_kept_clear_and_the_probe_says_so(self) -> None:
        self.open_layer(BARE.model_copy(update={"density": 4.0}))
        before = self.number("item-count")
        self.page.get_by_label("Add a zone").click()
        self.page.get_by_role("menuitem", name="A round zone in view").click()
        self.saved()
        self.number_field("Radius").fill("2")
        self.number_field("Radius").press("Enter")
        self.saved()
        self.pick("Stones")
        self.tool("Keep clear of")
        self.page.get_by_role("menuitem", name="Zones").click()
        self.saved()
        self.count(lambda number: number < before - 20, "the zone is clear")
        zone = self.document_of(self.site)["zones"][0]
        self.page.get_by_role("button", name="Why here").click()
        x, z = zone["centre"]
        at = self.seen_at(SHOT, (x, 0, z))
        self.page.mouse.move(at[0] - 30, at[1])
        self.page.mouse.move(*at)
        answer = self.page.get_by_role("dialog", name="Why here")
        expect(answer).to_contain_text("Nothing of Stones comes here, most of all for clear of zones.")
        expect(answer).to_contain_text("nothing may stand here")
        self.page.keyboard.press("Escape")
        expect(answer).not_to_be_visible()
        self.assertEqual(self.layer["keep_clear"][0]["of"], "zones")

    def test_cards_are_put_in_order_and_painted_into(self) -> None:
        self.open_layer(BARE.model_copy(update={"density": 4.0}))
        for name in ("Slope", "Painted"):
            self.page.get_by_label("Add a signal").click()
            self.page.get_by_role("menuitem", name=re.compile(f"^{name}")).click()
            self.saved()
        self.count(lambda number: number == 0, "nothing is painted yet")
        kinds = lambda: [card["signal"]["kind"] for card in self.layer["where"]["cards"]]  # noqa: E731 - read again
        self.assertEqual(kinds(), ["slope", "painted"])
        self.page.get_by_label("Painted settings").click()
        self.page.get_by_role("button", name="Earlier").click()
        self.saved()
        self.assertEqual(kinds(), ["painted", "slope"])
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_role("button", name="Earlier")).to_have_count(0)
        card = self.page.get_by_label("Painted card")
        card.get_by_role("button", name="Paint", exact=True).click()
        self.page.mouse.move(*self.seen_at(SHOT, (-1, 0, 0)))
        self.page.mouse.down()
        self.page.mouse.move(*self.seen_at(SHOT, (1.5, 0, 0)), steps=6)
        self.page.mouse.up()
        self.saved()
        self.count(lambda number: number > 2, "something stands where it was painted")
        self.assertEqual(len(self.layer["where"]["cards"][0]["signal"]["strokes"]), 1)
        painted = self.number("item-count")
        card.get_by_role("button", name="Wipe out", exact=True).click()
        self.drag((0.3, 0, 0), (1.8, 0, 0))
        self.saved()
        self.count(lambda number: number < painted, "what was wiped out is gone")
        strokes = self.layer["where"]["cards"][0]["signal"]["strokes"]
        self.assertEqual([stroke["adds"] for stroke in strokes], [True, False])

    def drag(self, start: tuple[float, float, float], end: tuple[float, float, float]) -> None:
        """Drag from one place to another in the view."""
        self.page.mouse.move(*self.seen_at(SHOT, start))
        self.page.mouse.down()
        self.page.mouse.move(*self.seen_at(SHOT, end), steps=6)
        self.page.mouse.up()

    def test_a_picked_item_is_slid_by_the_handles_and_stays_picked(self) -> None:
        self.open_layer(BARE.model_copy(update={"density": 0.6, "spacing": 1.5}))
        before = self.number("item-count")
        self.tool("Plant one")
        self.page.mouse.click(*self.seen_at(SHOT, (0, 0, 0.5)))
        self.count(lambda number: number >= before, "it stands")
        self.saved()
        self.tool("Pick")
        self.page.mouse.click(*self.seen_at(SHOT, (0, 0.08, 0.5)))
        expect(self.page.get_by_test_id("picked-items")).to_have_text("Field stone")
        self.drag((0, 0.02, 0.5), (1.6, 0.02, 1.4))
        self.saved()
        self.eventually(lambda: abs(self.layer["planted"][-1]["position"][0] - 1.6) < 0.15, "it was slid")
        self.assertLess(abs(self.layer["planted"][-1]["position"][2] - 1.4), 0.15)
        expect(self.page.get_by_test_id("picked-items")).to_have_text("Field stone")
        # Now where it was put; what rules placed elsewhere was not touched.
        self.drag((1.6, 0.02, 1.4), (-1.5, 0.02, 1.0))
        self.saved()
        self.eventually(lambda: abs(self.layer["planted"][-1]["position"][0] + 1.5) < 0.15, "it was slid again")
        self.assertEqual(len(self.layer["planted"]), 1)
        self.page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: abs(self.layer["planted"][-1]["position"][0] - 1.6) < 0.15, "one drag, one step")

    def test_a_mask_is_shared_followed_and_detached(self) -> None:
        first = BARE.model_copy(update={"density": 4.0})
        second = first.model_copy(update={"id": "more", "name": "More stones"})
        self.site = self.make_site(site_with(first).model_copy(update={"planting": (first, second)}))
        self.open_site(self.site)
        bench = self.page.get_by_label("Bench")
        document = lambda: self.document_of(self.site)  # noqa: E731 - read again
        self.pick("Stones")
        self.page.get_by_label("Add a signal").click()
        self.page.get_by_role("menuitem", name=re.compile("^Noise")).click()
        self.saved()
        bench.get_by_role("button", name="Share", exact=True).click()
        self.page.get_by_role("menuitem", name=re.compile("^Share this mask")).click()
        self.saved()
        expect(bench.get_by_role("button", name="Where of Stones, shared by 1")).to_be_visible()
        self.pick("More stones")
        before = self.number("item-count")
        bench.get_by_role("button", name="Share", exact=True).click()
        self.page.get_by_role("menuitem", name=re.compile("^Follow “Where of Stones”")).click()
        self.saved()
        expect(bench.get_by_role("button", name="Where of Stones, shared by 2")).to_be_visible()
        self.count(lambda number: number < before - 10, "the mask thins it out")
        # A change on either's bench is a change of both.
        self.page.get_by_label("Noise card").get_by_role("button", name=re.compile("^Invert")).click()
        self.saved()
        site = document()
        self.assertTrue(site["wheres"][0]["cards"][0]["inverted"])
        self.assertTrue(all(layer["where"]["cards"][0]["inverted"] for layer in site["planting"]))
        bench.get_by_role("button", name=re.compile("shared by 2$")).click()
        self.page.get_by_role("menuitem", name=re.compile("^Detach here")).click()
        self.saved()
        self.page.get_by_label("Noise card").get_by_role("button", name=re.compile("^Invert")).click()
        self.saved()
        site = document()
        turned = [layer["where"]["cards"][0]["inverted"] for layer in site["planting"]]
        self.assertEqual((turned, site["wheres"][0]["cards"][0]["inverted"]), ([True, False], True))
        self.assertEqual(site["planting"][1]["where"]["shared"], "")

    def test_wind_bends_plants_in_the_view_and_moves_when_asked(self) -> None:
        reeds = BARE.model_copy(
            update={"name": "Reeds", "mix": (MixItem(item="reed"),), "density": 2.0, "spacing": 0.6}
        )
        self.open_layer(reeds)
        still = self.canvas()
        self.page.get_by_role("button", name="Water & air", exact=True).click()
        self.number_field("Strength").fill("14")
        self.number_field("Strength").press("Enter")
        self.saved()
        self.eventually(lambda: changed(still, self.canvas()) > 0.004, "they lean")
        moving = self.page.get_by_role("switch", name="Seen moving")
        expect(moving).not_to_be_checked()
        moving.check()
        expect(self.page.get_by_label("Bench")).to_contain_text("pictures a second here")
        first = self.glimpse()
        self.eventually(lambda: changed(first, self.glimpse()) > 0.001, "they sway")
        moving.uncheck()
        self.number_field("Strength").fill("0")
        self.number_field("Strength").press("Enter")
        self.saved()
        self.eventually(lambda: changed(still, self.canvas()) < 0.001, "still air, as it was")
