"""Air: optical depths against integrals, light kept below a fog, banks, and what is seen through it."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from cenote.light.air import Air, Medium, bank_map, below_fog, lobe, passes
from cenote.light.daylight import Light, daylight


def ways(*given: tuple[float, float, float]) -> np.ndarray:
    """Unit ways, float64 (N, 3)."""
    found = np.array(given, float)
    return found / np.linalg.norm(found, axis=1, keepdims=True)


class DepthTests(unittest.TestCase):
    medium = Medium.of(Air(fog="low", fog_visibility=60, fog_top=2, fog_fade=3))

    def test_a_twentieth_is_left_at_the_visibility(self) -> None:
        for visibility in (50, 1200, 100_000):
            haze, _ = Medium.of(Air(visibility=visibility)).held_up(
                np.zeros((1, 3)), ways((1, 0, 0)), np.array([visibility])
            )
            self.assertAlmostEqual(float(np.exp(-haze[0])), 0.05, places=12)
        _, fog = self.medium.held_up(np.array([[0, 1.0, 0]]), ways((1, 0, 0)), np.array([60.0]))
        self.assertAlmostEqual(float(np.exp(-fog[0])), 0.05, places=12)

    def test_fog_along_a_way_is_the_integral_of_its_density(self) -> None:
        eyes = np.array([[0, 1.7, 0], [3, 9.0, 1], [0, -4, 0], [0, 5, 0], [0, 1, 0.0]])
        looks = ways((1, 0.2, 0), (0, -0.4, 1), (0, 1, 0), (1, 0, 1), (1, 1e-7, 0))
        far = np.array([40.0, 25, 30, 70, 90])
        _, fog = self.medium.held_up(eyes, looks, far)
        steps = (np.arange(200_000) + 0.5) / 200_000
        for k in range(len(far)):
            heights = eyes[k, 1] + looks[k, 1] * far[k] * steps
            self.assertAlmostEqual(
                fog[k], float(self.medium.fog * self.medium.density(heights).mean() * far[k]), delta=1e-4
            )

    def test_a_way_to_the_sky_goes_through_all_that_lies_above(self) -> None:
        eye = np.array([[0, 0.0, 0]])
        _, sky = self.medium.held_up(eye, ways((0, 1, 0)), np.array([np.inf]))
        _, far = self.medium.held_up(eye, ways((0, 1, 0)), np.array([500.0]))
        self.assertAlmostEqual(sky[0], far[0], places=9)
        self.assertAlmostEqual(sky[0], self.medium.overhead())
        # Thirty degrees up it is twice as much; level there is an end to it.
        _, slanting = self.medium.held_up(eye, ways((3**0.5, 1, 0)), np.array([np.inf]))
        self.assertAlmostEqual(slanting[0] / sky[0], 2)
        _, level = self.medium.held_up(eye, ways((1, 0, 0)), np.array([np.inf]))
        self.assertTrue(np.isfinite(level[0]))

    def test_haze_is_no_part_of_the_sky(self) -> None:
        haze, fog = Medium.of(Air()).held_up(np.zeros((1, 3)), ways((0, 1, 0)), np.array([np.inf]))
        self.assertEqual((haze[0], fog[0]), (0, 0))


class FogLightTests(unittest.TestCase):
    def test_the_lobe_sends_all_light_somewhere(self) -> None:
        cosines = np.linspace(-1, 1, 200_001)
        self.assertAlmostEqual(float(np.trapezoid(lobe(cosines), cosines) * 2 * np.pi), 1, places=6)

    def test_what_gets_through_lessens_and_never_ends(self) -> None:
        shares = passes(np.array([0, 0.1, 1, 10, 100]))
        self.assertEqual(shares[0], 1)
        self.assertTrue((np.diff(shares) < 0).all() and shares[-1] > 0.1)

    def test_no_light_is_made_in_a_fog(self) -> None:
        around = np.ones((32, 64, 3)) * [0.4, 0.6, 1.0]
        sun = np.array([5.0, 4.5, 4.0])
        for fog, sine in (("low", 0.9), ("low", 0.1), ("deep", 0.5)):
            medium = Medium.of(Air(fog=fog, fog_visibility=40))
            found = below_fog(medium, sine, sun, around)
            clear, foggy = (
                self._on_ground(sky) + direct * sine for sky, direct in ((around, sun), (found.around, found.direct))
            )
            self.assertTrue((foggy < clear).all())
            self.assertTrue((foggy > 0.2 * clear).all())
            # What stands in it has less of a shadow.
            self.assertLess(float((found.direct * sine / foggy)[1]), float((sun * sine / clear)[1]))

    def test_a_thin_fog_changes_next_to_nothing(self) -> None:
        around = np.ones((16, 32, 3))
        found = below_fog(Medium(0.001, 1e-7, 2, 3, 0, 20), 0.6, np.ones(3), around)
        np.testing.assert_allclose(found.around, around, rtol=1e-4)
        np.testing.assert_allclose(found.direct, 1, rtol=1e-4)

    @staticmethod
    def _on_ground(around: np.ndarray) -> Any:
        rows = around.shape[0]
        up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
        level = around * (np.sin(up) * np.cos(up) * (np.pi / rows) ** 2)[:, None, None]
        return level[: rows // 2].sum((0, 1))


class BankTests(unittest.TestCase):
    def test_they_are_the_fog_gathered(self) -> None:
        banks = bank_map()
        self.assertAlmostEqual(float(banks.mean()), 1, places=5)
        self.assertGreaterEqual(float(banks.min()), 0)
        self.assertGreater(float((banks == 0).mean()), 0.1)
        # It goes on over its edges as it does within.
        within = np.abs(np.diff(banks, axis=0)).mean()
        self.assertLess(float(np.abs(banks[0] - banks[-1]).mean()), 1.5 * float(within))


class SeenTests(unittest.TestCase):
    def test_what_is_far_goes_over_into_the_sky_behind_it(self) -> None:
        light = Light(height=4, bearing=270, clouds=0)
        shown = daylight(light, air=Air(visibility=1000))
        looks = ways((-1, 0, 0), (1, 0, 0))
        seen = shown.through(np.zeros((2, 3)), np.zeros((2, 3)), looks, np.array([1e6, 1e6]))
        # Where the sun goes down it is brighter and redder than behind one's back.
        self.assertGreater(seen[0].sum(), seen[1].sum())
        self.assertGreater(seen[0, 0] / seen[0, 2], seen[1, 0] / seen[1, 2])
        half = shown.through(np.ones((2, 3)), np.zeros((2, 3)), looks, np.array([1000.0, 0.0]))
        np.testing.assert_allclose(half[0], 0.05 + 0.95 * seen[0], rtol=1e-5)
        np.testing.assert_allclose(half[1], 1)

    def test_dust_is_brown(self) -> None:
        seen = [daylight(Light(clouds=0), air=Air(dust=dust)).through(
            np.zeros((1, 3)), np.zeros((1, 3)), ways((1, 0, 0)), np.array([1e6])) for dust in (0, 100)]  # fmt: skip
        self.assertGreater(seen[1][0, 0] / seen[1][0, 2], 1.8 * seen[0][0, 0] / seen[0][0, 2])

    def test_fog_takes_the_sun_and_its_shadows(self) -> None:
        clear, foggy = daylight(Light(clouds=0)), daylight(Light(clouds=0), air=Air(fog="deep", fog_visibility=50))
        self.assertLess(foggy.direct.max(), 0.01 * clear.direct.max())
        # As an eye does, the picture makes up for most of what the fog keeps.
        self.assertGreater(foggy.brighter, 2)
        self.assertGreater(foggy.fog.min(), 0.5 * clear.above.min() / np.pi)
        self.assertGreater(foggy.above.min(), 0.3 * clear.above.min())
        overhead = foggy.through(np.zeros((1, 3)), np.zeros((1, 3)), ways((0, 1, 0)), np.array([np.inf]))
        np.testing.assert_allclose(overhead[0], foggy.fog + lobe(foggy.direction[1]) * foggy.fog_sun, rtol=1e-3)


if __name__ == "__main__":
    unittest.main()
