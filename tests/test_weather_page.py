"""Weather in the page: states of the dials, one cover on many surfaces, swapping and detaching, snow on plants."""

from __future__ import annotations

import re

import numpy as np
from browsing import BrowserCase, changed
from playwright.sync_api import expect

from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import CoverLayer, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall
from cenote.weather.climate import Climate, ClimateState
from cenote.weather.moss import Moss
from cenote.weather.snow import Snow

SHOT = Shot(id="above", position=(0, 6, 8), target=(0, 0.4, 0), lens=29)
AUTUMN = Climate(years=20, damp=0.6, season=0.7)
WINTER = Climate(years=20, damp=0.6, season=1, snow=0.15)


def yard() -> SiteDocument:
    """Two walls and a few stones, with moss and snow, kept in two states."""
    walls = tuple(
        Structure(
            id=id, name=name, source=Made(maker=Wall(length=3, height=0.8)), placement=Placement(position=(0, 0, z))
        )
        for id, name, z in (("front", "Front wall", 1.5), ("back", "Back wall", -1.5))
    )
    surfaces = ("front", "back", "ground")
    return SiteDocument(
        ground=Ground(size=(8, 8), spacing=0.5, relief=0),
        structures=walls,
        planting=(Scatter(id="stones", name="Stones", density=0.8, spacing=0.6, mix=(MixItem(item="stone"),)),),
        weather=(
            CoverLayer(id="moss", name="Moss", cover=Moss(), where=Moss.usual_where(), surfaces=surfaces[:2]),
            CoverLayer(id="snow", name="Snow", cover=Snow(), where=Snow.usual_where(), surfaces=surfaces),
        ),
        climate=AUTUMN,
        states=(
            ClimateState(id="autumn", name="Autumn", climate=AUTUMN),
            ClimateState(id="winter", name="Winter", climate=WINTER),
        ),
        shots=(SHOT,),
    )


class WeatherTests(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.site = self.make_site(yard())
        self.open_site(self.site)

    def test_autumn_becomes_winter_by_one_choice_and_comes_back(self) -> None:
        autumn = self.canvas()
        state = self.page.get_by_label("State", exact=True)
        expect(state).to_have_value("autumn")
        state.select_option(label="Winter")
        self.saved()
        self.eventually(lambda: changed(autumn, self.canvas()) > 0.2, "snow lies")
        self.assertEqual(self.document_of(self.site)["climate"], WINTER.model_dump(mode="json"))
        self.page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: changed(autumn, self.canvas()) < 0.01, "autumn is back")
        expect(state).to_have_value("autumn")

    def test_a_change_is_played_and_dials_are_kept_under_a_name(self) -> None:
        autumn = self.canvas()
        self.page.get_by_label("Play to").select_option(label="Winter")
        self.page.get_by_role("button", name="Play the change").click()
        dial = self.page.get_by_role("slider", name="Snow")
        self.eventually(lambda: float(dial.get_attribute("aria-valuenow") or 0) > 0, "it is on its way")
        self.page.get_by_role("button", name="Stop here").click()
        self.saved()
        between = self.document_of(self.site)["climate"]
        self.assertTrue(0 < between["snow"] < 0.15, between)
        self.eventually(lambda: changed(autumn, self.canvas()) > 0.02, "what is played is seen")
        self.assertEqual(self.document_of(self.site)["states"][1]["name"], "Winter")
        self.page.get_by_role("button", name="Keep these dials").click()
        self.page.get_by_label("Name of the state").fill("Thin snow")
        self.page.get_by_role("button", name="Keep", exact=True).click()
        self.saved()
        kept = self.document_of(self.site)["states"][-1]
        self.assertEqual((kept["name"], kept["climate"]), ("Thin snow", between))
        self.page.get_by_role("button", name="Delete this state").click()
        self.saved()
        self.assertEqual(len(self.document_of(self.site)["states"]), 2)

    def test_a_new_cover_lies_on_all_structures_at_once_and_can_be_shared_with_more(self) -> None:
        page = self.page
        page.get_by_role("button", name="Add a cover").click()
        page.get_by_role("menuitem", name="Dirt on all structures").click()
        self.saved()
        self.assertEqual(self.document_of(self.site)["weather"][2]["surfaces"], ["front", "back"])
        expect(page.get_by_label("Column")).to_contain_text("shared by 2")
        page.get_by_role("combobox", name="Surfaces that share this cover").click()
        page.get_by_role("option", name="Ground").click()
        page.keyboard.press("Escape")
        self.saved()
        self.assertEqual(self.document_of(self.site)["weather"][2]["surfaces"], ["front", "back", "ground"])

    def test_a_cover_is_swapped_everywhere_and_detached_for_one_surface(self) -> None:
        self.pick("Moss")
        bench = self.page.get_by_label("Bench")
        bench.get_by_role("combobox", name="Swap for").click()
        self.page.get_by_role("option", name="Soot").click()
        self.saved()
        moss = self.document_of(self.site)["weather"][0]
        self.assertEqual((moss["cover"]["kind"], moss["surfaces"]), ("soot", ["front", "back"]))
        self.page.get_by_role("button", name="Undo").click()
        self.eventually(lambda: self.document_of(self.site)["weather"][0]["cover"]["kind"] == "moss", "it is undone")
        bench.get_by_role("button", name="Strength by surface").click()
        strengths = self.page.get_by_role("group", name="Strengths")
        strengths.get_by_role("textbox", name=re.compile("^Front wall")).fill("0.5")
        strengths.get_by_role("textbox", name=re.compile("^Front wall")).press("Enter")
        self.saved()
        self.assertEqual(self.document_of(self.site)["weather"][0]["strengths"], {"front": 0.5})
        strengths.get_by_role("button", name="Detach for Back wall").click()
        self.saved()
        # The button is gone with its row: the focus stays in the list, where Escape closes it.
        self.assertEqual(self.page.evaluate("document.activeElement.getAttribute('aria-label')"), "Strengths")
        self.page.keyboard.press("Escape")
        expect(strengths).to_be_hidden()

        def names():
            return [
                (one["name"], one["cover"]["kind"], one["surfaces"]) for one in self.document_of(self.site)["weather"]
            ]

        self.assertEqual(names()[:2], [("Moss", "moss", ["front"]), ("Moss on Back wall", "moss", ["back"])])
        self.pick("Moss on Back wall")
        bench.get_by_role("combobox", name="Swap for").click()
        self.page.get_by_role("option", name="Lichen").click()
        self.saved()
        self.assertEqual(names()[1][1:], ("lichen", ["back"]))
        self.assertEqual(names()[0], ("Moss", "moss", ["front"]))

    def view_halves(self) -> tuple[bytes, bytes]:
        """The left and the right half of the view's pixels."""
        shown = np.frombuffer(self.canvas(), np.uint8).reshape(64, 128, 4)
        return shown[:, :64].tobytes(), shown[:, 64:].tobytes()

    def test_deep_snow_is_a_sheet_of_its_own_and_what_is_below_is_still_picked(self) -> None:
        self.page.get_by_label("State", exact=True).select_option(label="Winter")
        self.saved()
        self.eventually(
            lambda: self.page.evaluate(
                "performance.getEntriesByType('resource').some((one) => one.name.includes('/blankets/snow?key='))"
            ),
            "the sheet is fetched",
        )
        # The sheet lets the pointer through to the wall that it lies on.
        self.page.mouse.click(*self.seen_at(SHOT, (0.4, 0.8, 1.5)))
        expect(self.page.get_by_label("Bench").get_by_role("textbox", name="Name", exact=True)).to_have_value(
            "Front wall"
        )
        self.pick("Snow")
        before = self.canvas()
        self.page.get_by_label(re.compile("^Lies as sheet")).click()
        self.saved()
        self.assertFalse(self.document_of(self.site)["weather"][1]["cover"]["lies_as_sheet"])
        self.eventually(lambda: changed(before, self.canvas()) > 0.005, "without the sheet it looks otherwise")

    def test_before_and_after_stand_side_by_side(self) -> None:
        self.page.get_by_label("State", exact=True).select_option(label="Winter")
        self.saved()
        # All is there once the sheet of snow has come and the view has been at rest since.
        self.page.wait_for_timeout(3000)
        winter_left, winter_right = self.view_halves()
        self.page.get_by_role("button", name="Before/after").click()
        line = self.page.get_by_role("slider", name="Parting of before and after")
        expect(line).to_have_attribute("aria-valuenow", "50")
        self.eventually(lambda: changed(winter_left, self.view_halves()[0]) > 0.2, "the left half has no snow")
        self.assertLess(changed(winter_right, self.view_halves()[1]), 0.02)
        line.press("ArrowRight")
        expect(line).to_have_attribute("aria-valuenow", "55")
        line.press("x")
        expect(line).to_have_attribute("aria-valuenow", "100")
        self.eventually(lambda: changed(winter_right, self.view_halves()[1]) > 0.2, "all of it has none")
        line.press("x")
        expect(line).to_have_attribute("aria-valuenow", "55")
        self.page.get_by_role("button", name="Before/after").click()
        expect(line).to_have_count(0)
        self.eventually(lambda: changed(winter_left, self.view_halves()[0]) < 0.01, "all as it was")

    def test_a_cover_is_kept_and_laid_over_another_site(self) -> None:
        self.pick("Moss")
        self.page.get_by_role("button", name="Keep in library").click()
        expect(self.page.get_by_text("“Moss” is in the library")).to_be_visible()
        other = self.make_site(yard().model_copy(update={"weather": ()}))
        self.open_site(other)
        self.page.get_by_role("button", name="Add a cover").click()
        self.choose("From the library …")
        dialog = self.page.get_by_role("dialog", name="Covers in the library")
        dialog.get_by_label("Name of Moss").fill("Moss of the yard")
        dialog.get_by_label("Name of Moss").press("Enter")
        dialog.get_by_role("button", name="Lay over all structures: Moss of the yard").click()
        self.saved()
        (laid,) = self.document_of(other)["weather"]
        (kept, _) = self.document_of(self.site)["weather"]
        self.assertEqual(
            (laid["name"], laid["cover"], laid["where"]), ("Moss of the yard", kept["cover"], kept["where"])
        )
        self.assertEqual(sorted(laid["surfaces"]), ["back", "front"])
        self.page.get_by_role("button", name="Add a cover").click()
        self.page.get_by_role("menuitem", name=re.compile("^From the library")).click()
        dialog.get_by_role("button", name="Delete Moss of the yard").click()
        expect(dialog.get_by_text("was deleted")).to_be_visible()
        dialog.get_by_role("button", name="Undo").click()
        expect(dialog.get_by_label("Name of Moss of the yard")).to_be_visible()

    def test_the_bench_sums_up_what_each_cover_takes(self) -> None:
        bench = self.page.get_by_label("Bench")
        row = bench.get_by_role("listitem").filter(has_text="Snow")
        expect(row).to_contain_text("0 m² · 0 %")
        expect(bench.get_by_role("listitem").filter(has_text="Moss")).to_contain_text(re.compile(r"[1-9]\d* %"))
        self.page.get_by_label("State", exact=True).select_option(label="Winter")
        self.saved()
        expect(row).to_contain_text(re.compile(r"[1-9]\d %"))
