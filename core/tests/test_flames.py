"""Fires: their flames and their light."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from cenote.geometry.camera import Camera
from cenote.light.flames import MOST, Sprites, sprites_of
from cenote.light.lamps.base import SUN_LUX
from cenote.light.lamps.fire import Fire
from cenote.still.drifted import burning
from cenote.still.scene import LensBlur
from cenote.still.tracing import Picture

CALM = np.zeros(2)
FOOT = np.array([2.0, 0.5, -3.0])


def flame(moment: float = 3.0, wind: Any = CALM, scale: float = 1.0, **fire: float) -> Sprites:
    found = Fire(**fire).beam().flame
    assert found
    return sprites_of(found, FOOT, np.asarray(wind, float), moment, scale)


class FlameTests(unittest.TestCase):
    def test_it_stands_on_its_foot_and_is_as_large_as_it_is_told(self) -> None:
        small, large = (np.concatenate([flame(t, wide=w, tall=h).places for t in np.arange(0, 2, 0.1)]) - FOOT
                        for w, h in ((0.3, 0.5), (0.9, 1.5)))  # fmt: skip
        self.assertGreaterEqual(small[:, 1].min(), 0)
        self.assertAlmostEqual(small[:, 1].max(), 0.5, delta=0.1)
        self.assertLess(np.abs(small[:, [0, 2]]).max(), 0.25)
        self.assertAlmostEqual(large[:, 1].max() / small[:, 1].max(), 3, delta=0.2)

    def test_it_is_the_same_at_a_moment_and_another_at_the_next(self) -> None:
        np.testing.assert_array_equal(flame(1.25).places, flame(1.25).places)
        self.assertGreater(np.abs(flame(1.25).places - flame(1.35).places).max(), 0.05)

    def test_it_leans_with_the_wind_the_more_the_higher(self) -> None:
        leant = flame(wind=(6, 0)).places - flame().places
        height = flame().places[:, 1] - FOOT[1]
        self.assertTrue((leant[:, 0] >= 0).all() and np.abs(leant[:, 2]).max() < 1e-12)
        self.assertGreater(leant[height > 0.3, 0].mean(), 4 * leant[height < 0.15, 0].mean())

    def test_tips_are_redder_than_the_foot_and_nothing_is_too_bright(self) -> None:
        burns = flame()
        height = burns.places[:, 1] - FOOT[1]
        green = burns.colours[:, 1] / burns.colours[:, 0]
        self.assertLess(green[height > 0.35].mean(), 0.75 * green[height < 0.1].mean())
        self.assertLessEqual(flame(scale=1e9).colours.max(), MOST + 1e-9)
        np.testing.assert_allclose(flame(scale=2).colours, 2 * burns.colours)

    def test_its_light_comes_from_within_it_and_is_as_much_as_it_is_told(self) -> None:
        fire = Fire(lumens=1000, tall=1)
        beam = fire.beam()
        self.assertTrue(0.2 < beam.heart < 0.6)
        ways = np.random.default_rng(1).normal(size=(100, 3))
        np.testing.assert_allclose(fire.candela(ways) * 4 * np.pi, 1000)
        self.assertAlmostEqual(float(beam.intensity @ [0.2126, 0.7152, 0.0722]) * SUN_LUX * 4 * np.pi, 1000, delta=1)


class BurningTests(unittest.TestCase):
    camera = Camera.looking((2, 0.8, 1), (2, 0.8, -3), 0.3, 0.3)
    picture = Picture(80, 80)

    def burnt(self, depth: float) -> tuple[np.ndarray, np.ndarray]:
        far = np.full((80, 80), depth, np.float32)
        return burning([flame(scale=1000)], self.camera, self.picture, far, LensBlur())

    def test_it_is_seen_before_what_is_behind_it_and_not_behind_a_wall(self) -> None:
        kept, sent = self.burnt(50)
        rows = np.arange(80) - 40
        # 0.3 m above its foot is the middle of the picture.
        lit = sent.sum(2)
        self.assertGreater(lit[30:54, 34:46].mean(), 20 * max(lit[:, :15].mean(), 1e-9))
        self.assertLess(abs(float((lit.sum(1) * rows).sum() / lit.sum())), 15)
        self.assertLess(kept.min(), 0.5)
        np.testing.assert_array_equal(self.burnt(3.0)[1], 0)


if __name__ == "__main__":
    unittest.main()
