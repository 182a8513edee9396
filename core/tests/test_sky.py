"""Light of the sky against what is measured outdoors, and what follows from the physics."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.colour import LUMINANCE
from cenote.geometry.compass import towards
from cenote.light.atmosphere import _AIR, _AIR_THINS, TOP, air, sphere
from cenote.light.sky import Sky, panorama
from cenote.light.spectrum import SUN, TO_RGB, WAVELENGTHS, matching, rgb
from cenote.light.sun import Moon, Placed

# Lux outside the air.
SUN_LUX = 128_000


def lux(sky: Sky) -> float:
    return float(sky.on_ground @ LUMINANCE) * SUN_LUX


def looked(sky: Sky, bearing: float, height: float) -> np.ndarray:
    return sky.radiance(towards(bearing, height)[None])[0]


class SpectrumTests(unittest.TestCase):
    def test_sunlight_is_white_with_a_touch_of_yellow(self) -> None:
        red, green, blue = rgb(np.ones(len(WAVELENGTHS)))
        self.assertAlmostEqual(float(np.array([red, green, blue]) @ LUMINANCE), 1, delta=1e-3)
        self.assertTrue(red > green > blue > 0.7)
        self.assertEqual(TO_RGB.shape, (len(SUN), 3))

    def test_the_eye_sees_green_brightest(self) -> None:
        at = np.arange(380.0, 781.0)
        x, y, z = matching(at).T
        self.assertAlmostEqual(at[y.argmax()], 556, delta=4)
        for one in (x, z):
            self.assertAlmostEqual(one.sum() / y.sum(), 1, delta=0.02)


class AirTests(unittest.TestCase):
    def test_what_passes_straight_down_is_as_the_sum_has_it(self) -> None:
        clear = air(0.0)
        depth = _AIR * _AIR_THINS * (1 - np.exp(-TOP / _AIR_THINS))
        # Ozone takes up to 4 % more in the middle of the spectrum, and hardly any of the bluest.
        self.assertAlmostEqual(float(clear.passes[0, -1, 0]), float(np.exp(-depth[0])), delta=0.005)
        self.assertTrue((clear.passes[0, -1] <= np.exp(-depth) + 1e-3).all())

    def test_haze_takes_from_the_sun_and_gives_round_it(self) -> None:
        clear, hazy = air(0.5), air(6.0)
        sun = towards(180, 40)
        self.assertTrue((hazy.sunlight(sun[1]) < clear.sunlight(sun[1])).all())
        beside = towards(180, 45)[None]
        self.assertTrue((hazy.sky(beside, sun) > clear.sky(beside, sun)).all())

    def test_ways_are_spread_evenly(self) -> None:
        ways = sphere(500)
        np.testing.assert_allclose(np.linalg.norm(ways, axis=1), 1, atol=1e-12)
        self.assertLess(np.abs(ways.mean(0)).max(), 0.01)
        np.testing.assert_allclose(ways.T @ ways / 500, np.eye(3) / 3, atol=0.01)


class SkyTests(unittest.TestCase):
    def test_the_ground_is_as_bright_as_outdoors(self) -> None:
        """Lux on level ground of a clear day: 100,000 and more under a high sun, 3.4 at the end of civil twilight and 0.008 at that
        of nautical twilight (Seidelmann, Explanatory Supplement to the Astronomical Almanac, 1992)."""
        self.assertTrue(100_000 < lux(Sky(Placed(180, 65))) < 130_000)
        for height, published in ((-6.0, 3.4), (-12.0, 0.008)):
            self.assertTrue(published / 2 < lux(Sky(Placed(180, height))) < 2 * published, height)
        steps = [lux(Sky(Placed(180, height))) for height in (60, 30, 10, 3, 0, -3, -6, -9, -12, -15)]
        self.assertEqual(steps, sorted(steps, reverse=True))

    def test_noon_is_blue_and_sunset_is_red(self) -> None:
        noon, sunset, dusk = (Sky(Placed(180, height)) for height in (50, 1, -5))
        zenith = looked(noon, 0, 89)
        self.assertGreater(zenith[2], 2 * zenith[0])
        low = looked(sunset, 180, 1.5)
        self.assertGreater(low[0], 2 * low[2])
        away = looked(sunset, 0, 60)
        self.assertGreater(away[2], away[0])
        self.assertGreater(looked(dusk, 180, 80)[2], 1.8 * looked(dusk, 180, 80)[0], "the blue hour")
        (high,), (setting,) = noon.direct, sunset.direct
        self.assertLess(setting.light[2] / setting.light[0], 0.2 * high.light[2] / high.light[0])

    def test_it_is_brightest_about_the_sun_and_the_same_on_both_sides_of_it(self) -> None:
        sky = Sky(Placed(120, 35))
        seen = panorama(sky, 32)
        # Above the horizon's own brightness.
        row, column = np.unravel_index((seen[:13] @ LUMINANCE).argmax(), (13, 64))
        self.assertAlmostEqual((column + 0.5) / 64 * 360, 120, delta=6)
        self.assertAlmostEqual(90 - (row + 0.5) / 32 * 180, 35, delta=6)
        np.testing.assert_allclose(looked(sky, 120 - 40, 30), looked(sky, 120 + 40, 30), rtol=1e-6)

    def test_an_overcast_sky_is_grey_and_alike_all_round(self) -> None:
        sky = Sky(Placed(180, 45), clouds=1)
        low, high = looked(sky, 0, 1), looked(sky, 0, 89)
        np.testing.assert_allclose(looked(sky, 170, 1), low, rtol=1e-6)
        self.assertAlmostEqual(float(high @ LUMINANCE) / float(low @ LUMINANCE), 3, delta=0.15)
        self.assertLess(np.ptp(high) / high.max(), 0.15)
        self.assertEqual(float(sky.direct[0].light.max()), 0)

    def test_clouds_take_light_as_measured(self) -> None:
        clear = lux(Sky(Placed(180, 45)))
        for share in (0.25, 0.5, 0.8, 1.0):
            cloudy = Sky(Placed(180, 45), clouds=share)
            self.assertAlmostEqual(lux(cloudy) / clear, 1 - 0.75 * share**3.4, delta=0.04)
        suns = [float(Sky(Placed(180, 45), clouds=share).direct[0].light[1]) for share in (0, 0.4, 0.8, 1)]
        self.assertEqual(suns, sorted(suns, reverse=True))

    def test_a_full_moon_lights_the_night(self) -> None:
        night = Placed(0, -40)
        dark, bright, thin = (Sky(night, moon) for moon in (None, Moon(180, 60, 1.0), Moon(180, 60, 0.1)))
        self.assertTrue(0.1 < lux(bright) < 0.4)
        self.assertTrue(2e-4 < lux(dark) < 5e-3)
        self.assertTrue(lux(dark) < lux(thin) < 0.2 * lux(bright))

    def test_below_the_horizon_lies_the_ground(self) -> None:
        sky = Sky(Placed(180, 50))
        self.assertAlmostEqual(float(looked(sky, 0, -60)[1]), 0.25 / np.pi * float(sky.on_ground[1]), delta=0.03)
        seen = panorama(sky, 16)
        self.assertEqual(seen.shape, (16, 32, 3))
        self.assertTrue(np.isfinite(seen).all() and (seen > 0).all())


if __name__ == "__main__":
    unittest.main()
