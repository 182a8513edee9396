"""Sheets of deep covers: closed forms for bridging, sliding, rims and the sheet itself; and snow on a house."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import card, graph_of, where

from cenote.derive.sheets import LaidSheet, blankets_on
from cenote.signals.slope import Slope
from cenote.site.document import CoverLayer, Made, Placement, SiteDocument, Structure, Water
from cenote.site.ground import Ground
from cenote.structures.deck import Deck
from cenote.structures.fittings import Crates
from cenote.weather.base import COVERS
from cenote.weather.blanket import LEAST, bridged, joined, rounded, sheet, slid
from cenote.weather.climate import Climate, Conditions
from cenote.weather.moss import Moss
from cenote.weather.snow import Snow

CELL = 0.1
FLAT = np.zeros((40, 60))


def level(height: float):
    """A callable that tells the same height everywhere."""
    return lambda x, z: np.full(len(x), height)


class BridgeTests(unittest.TestCase):
    def boards(self, gap: int) -> tuple[np.ndarray, np.ndarray]:
        """Two boards a metre up with a gap of some squares between them, and snow on them alone."""
        heights, depths = np.ones((20, 30)), np.full((20, 30), 0.2, np.float32)
        heights[:, 12 : 12 + gap], depths[:, 12 : 12 + gap] = 0, 0
        return heights, depths

    def test_a_gap_is_bridged_up_to_the_width_and_no_wider(self) -> None:
        for gap, spans in ((2, True), (4, True), (5, False)):
            heights, depths = self.boards(gap)
            found, held = bridged(heights, depths, CELL, 0.4)
            self.assertEqual(bool((found[:, 12] == 1).all()), spans, gap)
            self.assertEqual(bool((held[:, 12] > 0.1).all()), spans, gap)

    def test_steps_and_what_stands_alone_stay_as_they_are(self) -> None:
        heights = FLAT.copy()
        heights[10:20, 10:30] = 1.5
        found, _ = bridged(heights, np.ones_like(heights), CELL, 0.6)
        np.testing.assert_array_equal(found, heights)

    def test_nothing_is_bridged_where_there_is_nothing(self) -> None:
        heights = np.full((10, 10), -np.inf)
        found, _ = bridged(heights, np.zeros((10, 10)), CELL, 0.5)
        self.assertTrue(np.isneginf(found).all())


class SlideTests(unittest.TestCase):
    def roof(self, degrees: float) -> np.ndarray:
        """A lean-to that falls towards +x from column 10 to 30, three metres above level ground at its eave."""
        heights = FLAT.copy()
        run = np.arange(20) * CELL
        heights[5:35, 10:30] = 3 + (run[::-1]) * np.tan(np.radians(degrees))
        return heights

    def test_what_slides_lands_below_the_eave_and_none_is_lost(self) -> None:
        heights = self.roof(50)
        falls = np.where(heights > 2, 0.7, 0.0)
        landed = slid(heights, falls, CELL)
        self.assertAlmostEqual(landed.sum() / falls.sum(), 1, delta=0.02)
        self.assertGreater(landed[:, 30:].sum() / landed.sum(), 0.9)
        self.assertLess(landed[heights > 2].sum(), 0.01 * landed.sum())
        # A bank beside the wall, and nothing some metres off.
        self.assertGreater(landed[20, 30:36].mean(), landed[20, 42:50].mean() * 5)

    def test_on_a_low_slope_it_comes_to_rest_where_it_is(self) -> None:
        heights = np.tile(np.arange(60) * CELL * np.tan(np.radians(15)), (40, 1))
        falls = np.zeros_like(heights)
        falls[20, 30] = 1
        landed = slid(heights, falls, CELL)
        self.assertAlmostEqual(float(landed.sum()), 1, delta=0.02)
        self.assertEqual(np.unravel_index(landed.argmax(), landed.shape)[0], 20)

    def test_over_the_border_it_is_gone(self) -> None:
        heights = np.tile(np.arange(60)[::-1] * CELL, (40, 1)).astype(float)
        heights[:, -1] = -np.inf
        self.assertEqual(slid(heights, np.where(np.isfinite(heights), 1.0, 0), CELL).sum(), 0)


class SheetTests(unittest.TestCase):
    def made(self, heights: np.ndarray, depths: np.ndarray, top):
        joins = joined(heights, CELL, 0.2)
        return sheet(heights, depths, CELL, (0.0, 0.0), joins, top)

    def test_over_level_ground_it_lies_level_and_looks_up(self) -> None:
        made = self.made(FLAT, np.full(FLAT.shape, 0.2), level(0))
        np.testing.assert_allclose(made.positions[:, 1], 0.2, atol=1e-6)
        np.testing.assert_allclose(made.normals, np.tile([0, 1, 0], (len(made.normals), 1)), atol=1e-6)
        self.assertEqual(len(made.faces), 2 * 39 * 59)

    def test_its_edge_is_where_the_thing_below_ends(self) -> None:
        """A slab a metre up that ends at x = 2.03 and z = 1.77: the sheet ends there to a few centimetres."""

        def top(x, z):
            return np.where((x < 2.03) & (z < 1.77), 1.0, 0.0)

        x, z = np.meshgrid((np.arange(60) + 0.5) * CELL, (np.arange(40) + 0.5) * CELL)
        heights = top(x, z)
        made = self.made(heights, np.where(heights > 0.5, 0.2, 0.0), top)
        rim = made.positions[made.positions[:, 1] < 1.1]
        self.assertLess(abs(made.positions[:, 0].max() - 2.03), 0.015)
        self.assertLess(abs(made.positions[:, 2].max() - 1.77), 0.015)
        # Its rim comes down to the slab itself.
        np.testing.assert_allclose(rim[:, 1], 1, atol=0.02)

    def test_two_floors_are_two_sheets(self) -> None:
        def top(x, z):
            return np.where(x < 2.0, 1.0, 0.0)

        x, z = np.meshgrid((np.arange(60) + 0.5) * CELL, (np.arange(40) + 0.5) * CELL)
        heights = top(x, z)
        made = self.made(heights, np.full(heights.shape, 0.1), top)
        tall = np.ptp(made.positions[made.faces][:, :, 1], axis=1)
        self.assertLess(tall.max(), 0.15)

    def test_nothing_thin_is_drawn(self) -> None:
        made = self.made(FLAT, np.full(FLAT.shape, LEAST * 0.9), level(0))
        self.assertEqual(len(made.faces), 0)

    def test_all_triangles_look_up(self) -> None:
        generator = np.random.default_rng(3)
        depths = np.where(generator.random(FLAT.shape) > 0.4, 0.1, 0.0)
        made = self.made(FLAT, depths, level(0))
        a, b, c = (made.positions[made.faces[:, k]].astype(float) for k in range(3))
        self.assertGreaterEqual(np.cross(b - a, c - a)[:, 1].min(), -1e-9)
        self.assertLess(made.faces.max(), len(made.positions))

    def test_rims_are_round_and_the_middle_keeps_its_depth(self) -> None:
        heights = FLAT.copy()
        heights[10:30, 10:50] = 1
        depths = np.where(heights > 0.5, 0.3, 0.0)
        joins = joined(heights, CELL, 0.3)
        found = rounded(heights, depths, CELL, joins, 0.3)
        self.assertAlmostEqual(float(found[20, 30]), 0.3, places=3)
        self.assertLess(found[20, 10], found[20, 11])
        # A circle's quarter: at 5 cm of 21 from the rim.
        self.assertAlmostEqual(float(found[20, 10] / 0.3), float(np.sqrt(1 - (1 - 0.05 / 0.21) ** 2)), delta=0.05)
        self.assertEqual(found[5, 5], 0)


class SnowOnASiteTests(unittest.TestCase):
    def site(self, snow: float = 0.2, **changes) -> SiteDocument:
        crates = Structure(id="crates", source=Made(maker=Crates(number=1)), placement=Placement(position=(2, 0, 0)))
        deck = Structure(id="deck", source=Made(maker=Deck(size=(2, 2), height=0.8, lost=0, gap=0.02, wear=0)),
                         placement=Placement(position=(-2, 0, 0)))  # fmt: skip
        layer = CoverLayer(id="snow", cover=Snow(), where=where(card("slope", Slope(), 52, 38)),
                           surfaces=("ground", "crates", "deck"))  # fmt: skip
        values = {"ground": Ground(size=(10, 8), spacing=0.5, relief=0), "structures": (crates, deck),
                  "weather": (layer,), "climate": Climate(snow=snow)}  # fmt: skip
        return SiteDocument(**(values | changes))

    def sheet(self, document: SiteDocument, coarse: bool = False):
        graph = graph_of(document)
        ((layer, _),) = blankets_on(graph)
        return graph.get(LaidSheet(layer.id, coarse))

    def at(self, made, x: float, z: float) -> float:
        """The sheet's height near a place."""
        far = np.hypot(made.positions[:, 0] - x, made.positions[:, 2] - z)
        return float(made.positions[far < 0.25, 1].max())

    def test_it_is_as_deep_as_the_dial_says_on_ground_and_deck(self) -> None:
        made = self.sheet(self.site())
        self.assertAlmostEqual(self.at(made, 0, 3), 0.2, delta=0.02)
        self.assertAlmostEqual(self.at(made, -2, 0), 1.0, delta=0.03)

    def test_what_slides_is_what_slope_turns_away_however_its_card_says_so(self) -> None:
        steep = Structure(id="roof", source=Made(maker=Deck(size=(3, 3), height=0.8, lost=0, gap=0, wear=0)),
                          placement=Placement(position=(0, 1, 0), tip=60))  # fmt: skip
        depths = {}
        for name, cards in {
            "multiply": (card("slope", Slope(), 52, 38),),
            "inverted": (card("slope", Slope(), 38, 52, inverted=True),),
            "subtract": (card("slope", Slope(), 38, 52, combine="subtract"),),
            "min": (card("slope", Slope(), 52, 38, combine="min"),),
            "switched off": (card("slope", Slope(), 38, 52, combine="subtract", enabled=False),),
        }.items():
            layer = self.site().weather[0].model_copy(update={"where": where(*cards), "surfaces": ("ground", "roof")})
            made = self.sheet(self.site(snow=0.3, structures=(steep,), weather=(layer,)))
            depths[name] = self.at(made, 4, 3), self.at(made, 0, 2)
        for name, (level, _) in depths.items():
            self.assertAlmostEqual(level, 0.3, delta=0.02, msg=name)
        for name in ("inverted", "subtract", "min"):
            np.testing.assert_allclose(depths[name], depths["multiply"], atol=0.01, err_msg=name)

    def test_gaps_between_boards_are_bridged(self) -> None:
        made = self.sheet(self.site())
        inside = (np.abs(made.positions[:, 0] + 2) < 0.6) & (np.abs(made.positions[:, 2]) < 0.6)
        self.assertGreater(made.positions[inside, 1].min(), 0.9)

    def test_without_snow_or_where_it_is_switched_off_there_is_none(self) -> None:
        self.assertEqual(blankets_on(graph_of(self.site(snow=0))), [])
        self.assertEqual(blankets_on(graph_of(self.site(snow=LEAST / 2))), [])
        off = self.site().weather[0].model_copy(update={"cover": Snow(lies_as_sheet=False)})
        self.assertEqual(blankets_on(graph_of(self.site(weather=(off,)))), [])
        self.assertTrue(all(cover().blanket(Conditions(snow=1)) is None for cover in COVERS if cover is not Snow))
        self.assertIsNone(Moss().blanket(Conditions(snow=1)))

    def test_none_lies_under_water_or_on_what_does_not_share_it(self) -> None:
        flooded = self.sheet(self.site(water=Water(shown=True, level=0.4)))
        self.assertGreater(flooded.positions[:, 1].min(), 0.4)
        layer = self.site().weather[0].model_copy(update={"surfaces": ("ground",)})
        ground = self.sheet(self.site(weather=(layer,)))
        self.assertLess(ground.positions[:, 1].max(), 0.35)

    def test_its_key_follows_what_decides_it(self) -> None:
        def name(document: SiteDocument) -> str:
            graph = graph_of(document)
            ((layer, _),) = blankets_on(graph)
            graph.get(LaidSheet(layer.id, False))
            return graph.key(LaidSheet(layer.id, False))

        site = self.site()
        self.assertEqual(name(site), name(self.site()))
        stronger = site.weather[0].model_copy(update={"strengths": {"deck": 0.5}})
        names = {name(site), name(self.site(snow=0.3)), name(self.site(weather=(stronger,))),
                 name(self.site(water=Water(shown=True, level=-1)))}  # fmt: skip
        self.assertEqual(len(names), 4)

    def test_weaker_on_one_surface_is_less_deep_there(self) -> None:
        layer = self.site().weather[0].model_copy(update={"strengths": {"deck": 0.5}})
        made = self.sheet(self.site(weather=(layer,)), coarse=True)
        self.assertAlmostEqual(self.at(made, -2, 0), 0.9, delta=0.03)


if __name__ == "__main__":
    unittest.main()
