"""What falls: its number and how far one sees through it; and where it is kept off, beside the signal *rain exposure*."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import samples, scene, square

from cenote.derive.shelter import Sheltered, sheltered
from cenote.light.air import Air, Medium
from cenote.light.precipitation import extinction, falling
from cenote.signals.rain import RainExposure


class FallingTests(unittest.TestCase):
    def test_nothing_falls_on_a_dry_day(self) -> None:
        self.assertEqual(falling(0, 0), [])
        self.assertEqual(extinction(0, 0), 0)

    def test_drops_are_as_many_as_were_counted(self) -> None:
        # The integral of Marshall and Palmer's distribution over all widths that are seen.
        widths = np.linspace(0.9, 20, 200_001)
        for rate in (2.0, 10.0, 50.0):
            (rain,) = falling(rate, 0)
            counted = np.trapezoid(8000 * np.exp(-4.1 * rate**-0.21 * widths), widths)
            self.assertAlmostEqual(rain.number / counted, 1, delta=1e-3)
            self.assertTrue(0.001 < rain.wide < 0.002)

    def test_flakes_fall_slowly_and_are_wide(self) -> None:
        rain, snow = falling(5, 1)
        self.assertEqual((rain.kind, snow.kind), ("rain", "snow"))
        self.assertLess(snow.speed, rain.speed / 4)
        self.assertTrue(0.002 < snow.wide < 0.01)

    def test_a_downpour_and_thick_snow_are_seen_through_for_a_kilometre_or_so(self) -> None:
        for rate, least, most in (({"rain": 50}, 600, 1200), ({"snowfall": 1}, 800, 1200), ({"rain": 2}, 5000, 8000)):
            haze = Medium.of(Air(visibility=100_000, **rate)).haze
            self.assertTrue(least < np.log(20) / haze < most, rate)


class ShelterTests(unittest.TestCase):
    def dry(self, found: Sheltered, points: np.ndarray) -> np.ndarray:
        """Whether drops are kept off points, as the view asks: by where they pass height 0."""
        way = found.source.astype(float)
        at = points[:, [0, 2]] - way[[0, 2]] / way[1] * points[:, 1:2]
        x, z = np.round((at - found.low) / found.cell).astype(int).T
        return np.asarray(points[:, 1] < found.tops[z, x] - 0.01)

    def test_it_rains_where_the_signal_says_so(self) -> None:
        roof = square(4) + np.array([0, 3, 0], np.float32)
        whole = scene(ground=square(20), roof=roof)
        rng = np.random.default_rng(2)
        points = np.column_stack([rng.uniform(-7, 7, 3000), rng.uniform(0.1, 4, 3000), rng.uniform(-7, 7, 3000)])
        for wind in (0.0, 6.5):
            signal = RainExposure(bearing=270, wind=wind)
            found = sheltered(whole, signal.source())
            way = np.broadcast_to(signal.source(), points.shape).astype(np.float32)
            kept = whole.rays.occluded(points.astype(np.float32), way.copy())
            # Within a cell of the roof's edge they may differ.
            self.assertLess(float((self.dry(found, points) != kept).mean()), 0.02)
            self.assertGreater(float(kept.mean()), 0.02)
        # At 45° from the west the place under the roof's western edge gets wet, and the lee of it is dry.
        exposed = signal.measure(samples([[-1.9, 0, 0], [4.0, 0, 0]]), whole)
        np.testing.assert_array_equal(self.dry(found, np.array([[-1.9, 0.02, 0], [4.0, 0.02, 0]])), exposed < 0.2)

    def test_a_point_with_nothing_above_it_is_open(self) -> None:
        found = sheltered(scene(ground=square(6)), RainExposure(wind=0).source())
        self.assertFalse(self.dry(found, np.array([[0, 0.05, 0], [2.9, 0.05, 2.9]])).any())
        self.assertTrue(self.dry(found, np.array([[0, -0.5, 0.0]])).all())


if __name__ == "__main__":
    unittest.main()
