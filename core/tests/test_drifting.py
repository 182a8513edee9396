"""What falls and floats: by what light it is seen, where it is, and what it hides of a still."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from shapes import scene, square

from cenote.derive.shelter import Sheltered, sheltered
from cenote.geometry.camera import Camera
from cenote.light.air import Air
from cenote.light.daylight import Daylight, Light, daylight
from cenote.light.drifting import Drift, drifting
from cenote.signals.rain import RainExposure
from cenote.still.drifted import drifted
from cenote.still.scene import LensBlur
from cenote.still.tracing import Picture

UP = np.array([0.0, 1.0, 0.0], np.float32)
CAMERA = Camera.looking([0, 0, 0], [0, 0, -1], 0.6, 0.4)
PICTURE = Picture(300, 200)
OPEN = Sheltered(np.full((2, 2), -100, np.float32), np.array([-100.0, -100.0]), 200.0, UP)
SHARP = LensBlur()


def _faded() -> float:
    radius = np.linspace(0, 1, 10_001)
    ease = np.clip((radius - 0.4) / 0.6, 0, 1)
    return float(np.trapezoid((1 - ease**2 * (3 - 2 * ease)) * 2 * np.pi * radius, radius) / 0.9)


def sky(hour: float = 12.0) -> Daylight:
    return daylight(Light(by="time", hour=hour))


def one_of(kind: str, **air: float) -> Drift:
    return next(one for one in drifting(Air(**air), sky()) if one.kind == kind)


class DriftingTests(unittest.TestCase):
    def test_each_kind_comes_with_its_number(self) -> None:
        self.assertEqual(drifting(Air(), sky()), [])
        kinds = [one.kind for one in drifting(Air(rain=5, snowfall=1, leaves=20, embers=10), sky())]
        self.assertEqual(kinds, ["rain", "snow", "leaves", "embers"])
        self.assertEqual(len(one_of("leaves", leaves=20).seeds(10**6)), 20 * 64)

    def test_leaves_are_lit_and_embers_shine_by_themselves(self) -> None:
        def bright(kind: str, hour: float) -> float:
            found = next(one for one in drifting(Air(leaves=9, embers=9), sky(hour)) if one.kind == kind)
            return float(np.mean(found.colours))

        # By day a leaf is about as bright as a surface of its colour; an ember tells by night, when an eye is used to little.
        self.assertTrue(0.02 < bright("leaves", 12) < 0.4)
        self.assertGreater(bright("embers", 23), 20 * bright("embers", 12))
        self.assertGreater(bright("embers", 23), 5 * bright("leaves", 23))

    def test_what_falls_comes_from_where_rain_does_and_embers_rise_with_the_wind(self) -> None:
        source = RainExposure(bearing=270, wind=6.5).source()
        rain = one_of("rain", rain=5).velocity(source)
        np.testing.assert_allclose(rain / np.linalg.norm(rain), -source, atol=1e-6)
        ember = one_of("embers", embers=5).velocity(source)
        self.assertGreater(ember[1], 0)
        self.assertGreater(ember[0] * rain[0], 0)


class DriftedTests(unittest.TestCase):
    def drawn(self, drift: Drift, depth: float = np.inf, shelter: Sheltered = OPEN, blur: LensBlur = SHARP,
              picture: Picture = PICTURE, moment: float = 3.0) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
        first, last, top, bottom = picture.window
        depths = np.full((bottom - top + 1, last - first + 1), depth, np.float32)
        return drifted([drift], shelter, CAMERA, picture, depths, blur, moment)

    def test_flakes_hide_what_their_discs_cover(self) -> None:
        snow = replace(one_of("snow", snowfall=1), number=3.0, hides=0.2, shutter=0.0, sways=0.0)
        kept, sent = self.drawn(snow)
        places = snow.seeds(10**6)
        # The mean over the picture of what is in each pixel's way, ∫ number · area · hides along it, as far as the cube goes.
        # Their discs fade towards their edges.
        area = 0.25 * _faded() * np.mean((snow.wide * (0.6 + 0.8 * places[:, 3])) ** 2)
        far = 0.95 * snow.about
        self.assertAlmostEqual(float(1 - kept.mean()) / (3.0 * area * 0.2 * far), 1, delta=0.15)
        np.testing.assert_allclose(sent[..., 1], (1 - kept) * snow.colours[0][1], rtol=1e-3, atol=1e-6)

    def test_it_is_behind_what_is_nearer(self) -> None:
        leaves = one_of("leaves", leaves=300)
        kept, sent = self.drawn(leaves, depth=0.3)
        self.assertTrue((kept == 1).all())
        self.assertFalse(sent.any())
        self.assertGreater(float((self.drawn(leaves, depth=6.0)[0] < 1).mean()), 0.001)
        self.assertGreater(float((self.drawn(leaves)[0] < 1).mean()), float((self.drawn(leaves, 6.0)[0] < 1).mean()))

    def test_none_falls_under_a_roof_but_embers_are_there(self) -> None:
        roof = sheltered(scene(ground=square(160), roof=square(150) + np.array([0, 30, 0], np.float32)), UP)
        for kind, air in (("rain", {"rain": 10.0}), ("leaves", {"leaves": 200.0})):
            self.assertTrue((self.drawn(one_of(kind, **air), shelter=roof)[0] == 1).all(), kind)
        self.assertTrue((self.drawn(one_of("embers", embers=200), shelter=roof)[0] < 1).any())

    def test_out_of_focus_it_is_wider_and_hides_as_much(self) -> None:
        leaves = replace(one_of("leaves", leaves=30), turns=0.0)
        sharp, soft = self.drawn(leaves)[0], self.drawn(leaves, blur=LensBlur(0.01, 2.0))[0]
        self.assertGreater(float((soft < 1).mean()), 1.5 * float((sharp < 1).mean()))
        self.assertAlmostEqual(float((1 - soft).sum() / (1 - sharp).sum()), 1, delta=0.4)

    def test_a_part_of_a_picture_has_the_same_as_the_whole(self) -> None:
        rain = one_of("rain", rain=10)
        whole = self.drawn(rain)[0]
        part = Picture(300, 200, (0.25, 0.25, 0.75, 0.75))
        first, last, top, bottom = part.window
        np.testing.assert_allclose(
            self.drawn(rain, picture=part)[0], whole[top : bottom + 1, first : last + 1], atol=1e-5
        )


if __name__ == "__main__":
    unittest.main()
