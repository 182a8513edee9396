"""Weather in the page: states of the dials, one recipe on many surfaces, swapping and detaching, snow on plants."""

from __future__ import annotations

import re

from browsing import BrowserCase, changed
from playwright.sync_api import expect

from cenote.scatter.layer import MixItem, Scatter
from cenote.site.document import CoverLayer, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall
from cenote.weather.climate import Climate, ClimateState
from cenote.weather.moss import Moss
from cenote.weather.snow import Snow

SHOT = Shot(id="above", position=(0, 6, 8), target=(0, 0.4, 0), field_of_view=45)
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
        self.page.get_by_label("Play to").select_option(label="Winter")
        self.page.get_by_role("button", name="Play the change").click()
        dial = self.page.get_by_role("slider", name="Snow")
        self.eventually(lambda: 0 < float(dial.get_attribute("aria-valuenow") or 0) < 0.15, "it is on its way")
        self.page.get_by_role("button", name="Stop here").click()
        self.saved()
        between = self.document_of(self.site)["climate"]
        self.assertTrue(0 < between["snow"] < 0.15, between)
        self.assertEqual(self.document_of(self.site)["states"][1]["name"], "Winter")
        self.page.get_by_role("button", name="Keep these dials").click()
        self.page.get_by_label("Name of the state").fill("Thin snow")
        self.page.get_by_role("button", name="Keep", exact=True).click()
        self.saved()
        kept = self.document_of(self.site)["states"][-1]
        self.assertEqual((kept["name"], kept["climate"]), ("Thin snow", between))
        self.page.get_by_role("button", name="Forget this state").click()
        self.saved()
        self.assertEqual(len(self.document_of(self.site)["states"]), 2)

    def test_a_recipe_is_swapped_everywhere_and_detached_for_one_surface(self) -> None:
        self.pick("Moss")
        bench = self.page.get_by_label("Bench")
        bench.get_by_role("button", name="Strength by surface").click()
        strengths = self.page.get_by_role("group", name="Strengths")
        strengths.get_by_role("textbox", name=re.compile("^Front wall")).fill("0.5")
        strengths.get_by_role("textbox", name=re.compile("^Front wall")).press("Enter")
        self.saved()
        self.assertEqual(self.document_of(self.site)["weather"][0]["strengths"], {"front": 0.5})
        strengths.get_by_role("button", name="Detach for Back wall").click()
        self.saved()
        self.page.keyboard.press("Escape")

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
