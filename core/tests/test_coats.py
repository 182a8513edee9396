"""Covers on placed items: by their own place, apart from their strength, for the uppermost few covers."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import card, graph_of, small_site, where

from cenote.derive.coats import MOST, CoatLooks, CoatMasks
from cenote.render.preview import picture
from cenote.scatter.layer import MixItem, Planted, Scatter
from cenote.signals.sky import SkyExposure
from cenote.site.document import CoverLayer, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.deck import Deck
from cenote.weather.base import COVERS
from cenote.weather.climate import Climate
from cenote.weather.coats import Coat, amounts, laid, share
from cenote.weather.moss import Moss
from cenote.weather.rust import Rust
from cenote.weather.snow import Snow
from cenote.weather.soaking import wet_share
from cenote.weather.wetness import Wetness

OPEN = where(card("sky", SkyExposure(), 0.2, 0.6))


def planted(id: str, x: float, z: float) -> Planted:
    return Planted(id=id, item="stone", position=(x, 0, z))


SNOW = Coat("snow", 1.0, (0.8, 0.8, 0.8), 1.0, 0.0, 1.0)
WET = Coat("wet", 1.0, (0.0, 0.0, 0.0), 0.0, 0.5, 0.0)


class LaidTests(unittest.TestCase):
    def test_it_comes_down_from_the_top_as_there_is_more(self) -> None:
        up = np.array([1.0, 0.5, 0.0, -1.0])
        for amount in (0.2, 0.6, 1.0):
            taken = share(np.float32(amount), up, SNOW)
            self.assertTrue((np.diff(taken) <= 0).all())
            self.assertLessEqual(taken[0], amount + 1e-6)
        self.assertEqual(share(np.float32(0.2), np.array([0.5]), SNOW)[0], 0)
        self.assertEqual(share(np.float32(1.0), np.array([0.5]), SNOW)[0], 1)

    def test_what_is_all_over_knows_no_up(self) -> None:
        np.testing.assert_allclose(share(np.float32(0.4), np.array([1.0, -1.0]), WET), 0.4)

    def test_colours_are_hidden_or_darkened_copy_by_copy(self) -> None:
        colours = np.full((2, 1, 3), 0.2, np.float32)
        up = np.ones((2, 1), np.float32)
        amounts = np.array([[0, 0], [1, 0]], np.float32)
        found, hides, wet = laid(colours, up, amounts, [SNOW, WET])
        np.testing.assert_allclose(found[:, 0, 0], [0.2, 0.8])
        np.testing.assert_allclose(hides[:, 0], [0, 1])
        np.testing.assert_allclose(wet, 1)
        dark = (1 - wet_share(np.float32(0.2))) * WET.soak
        found, hides, wet = laid(colours, up, np.array([[0, 1], [0, 0.5]], np.float32), [SNOW, WET])
        np.testing.assert_allclose(found[:, 0, 0], [0.2 * (1 - dark), 0.2 * (1 - dark / 2)], rtol=1e-5)
        np.testing.assert_allclose(wet[:, 0], [1 - dark, 1 - dark / 2], rtol=1e-5)
        self.assertFalse(hides.any())

    def test_masks_are_bytes_and_no_more_than_all(self) -> None:
        masks = np.array([[255, 128, 7, 0]], np.uint8)
        strong = Coat("b", 3.0, (1, 1, 1), 1, 0, 1)
        np.testing.assert_allclose(amounts(masks, [SNOW, strong]), [[1, 1]])


class CoatTests(unittest.TestCase):
    def site(self, *weather: CoverLayer, climate: Climate | None = None):
        """One stone under a roof of boards, one in the open."""
        roof = Structure(id="roof", source=Made(maker=Deck(size=(4, 4), height=1.2, lost=0, gap=0, wear=0)),
                         placement=Placement(position=(-3, 0, 0)))  # fmt: skip
        stones = Scatter(
            id="stones", density=0, mix=(MixItem(item="stone"),), planted=(planted("a", -3, 0), planted("b", 3, 0))
        )
        return graph_of(SiteDocument(ground=Ground(size=(12, 8), spacing=0.5, relief=0), structures=(roof,),
                                     planting=(stones,), weather=weather, climate=climate or Climate(snow=0.1))), stones  # fmt: skip

    def test_snow_comes_to_what_lies_open_and_not_under_a_roof(self) -> None:
        shop, stones = self.site(CoverLayer(id="snow", cover=Snow(), where=OPEN))
        masks = shop.get(CoatMasks(stones.id))
        self.assertEqual((masks.shape, masks.dtype), ((2, MOST), np.uint8))
        self.assertLess(masks[0, 0], 90)
        self.assertEqual(masks[1, 0], 255)
        self.assertFalse(masks[:, 1:].any())

    def test_leaves_hold_less_than_stones_do_and_are_as_wet(self) -> None:
        def masks(item: str, cover) -> int:
            shop, _ = self.site(CoverLayer(id="c", cover=cover, where=where()))
            layer = Scatter(id="s", density=0, mix=(MixItem(item=item),), planted=(Planted(id="a", item=item, position=(3, 0, 0)),))  # fmt: skip
            return int(graph_of(shop.document.model_copy(update={"planting": (layer,)})).get(CoatMasks(layer.id))[0, 0])

        self.assertEqual((masks("stone", Snow()), masks("stone", Wetness())), (255, 255))
        self.assertLess(masks("fern", Snow()), 160)
        self.assertGreater(masks("fern", Snow()), 100)
        self.assertEqual(masks("fern", Wetness()), 255)

    def test_the_climate_is_in_the_strength_alone(self) -> None:
        snow = CoverLayer(id="snow", cover=Snow(), where=OPEN)
        (deep, stones), (bare, _) = self.site(snow), self.site(snow, climate=Climate(snow=0))
        self.assertEqual(deep.key(CoatMasks(stones.id)), bare.key(CoatMasks(stones.id)))
        self.assertGreater(deep.get(CoatLooks())[0].strength, 0.9)
        self.assertEqual(bare.get(CoatLooks())[0].strength, 0)
        self.assertGreater(min(deep.get(CoatLooks())[0].colour), 0.5)

    def test_a_small_picture_shows_what_lies_on_items(self) -> None:
        snow = CoverLayer(id="snow", cover=Snow(lies_as_sheet=False), where=OPEN)
        shot = Shot(id="s", position=(3, 3, 1.2), target=(3, 0.1, 0), lens=68)
        (deep, _), (bare, _) = self.site(snow), self.site(snow, climate=Climate(snow=0))
        middle = [picture(shop, shot, 40, 30)[12:18, 17:23].mean() for shop in (deep, bare)]
        self.assertGreater(middle[0], middle[1] + 25)

    def test_another_mask_or_a_moved_roof_is_measured_anew(self) -> None:
        shop, stones = self.site(CoverLayer(id="snow", cover=Snow(), where=OPEN))
        other, _ = self.site(CoverLayer(id="snow", cover=Snow(), where=where(card("sky", SkyExposure(), 0.9, 1))))
        self.assertNotEqual(shop.key(CoatMasks(stones.id)), other.key(CoatMasks(stones.id)))

    def test_only_covers_that_coat_and_are_wanted_do(self) -> None:
        layers = [
            CoverLayer(id="rust", cover=Rust()),
            CoverLayer(id="moss", cover=Moss(), on_items=False),
            CoverLayer(id="hidden", cover=Snow(), shown=False),
            *(CoverLayer(id=f"snow{k}", cover=Snow()) for k in range(6)),
        ]
        shop, _ = self.site(*layers)
        self.assertEqual([coat.cover for coat in shop.get(CoatLooks())], ["snow2", "snow3", "snow4", "snow5"])
        self.assertEqual(
            {made.__name__ for made in COVERS if made.coats}, {"Moss", "Snow", "Frost", "Wetness", "WetEdge"}
        )

    def test_a_layer_without_items_or_a_cover_without_a_mask(self) -> None:
        shop = graph_of(
            small_site(planting=(Scatter(id="none", density=0),), weather=(CoverLayer(id="s", cover=Snow()),))
        )
        self.assertEqual(shop.get(CoatMasks(shop.document.planting[0].id)).shape, (0, MOST))
        shop, stones = self.site(CoverLayer(id="s", cover=Snow()))
        np.testing.assert_array_equal(shop.get(CoatMasks(stones.id))[:, 0], 255)
