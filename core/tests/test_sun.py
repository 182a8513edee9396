"""Sun and moon against published examples."""

from __future__ import annotations

import unittest
from datetime import UTC, datetime, timedelta, timezone

import numpy as np

from cenote.geometry.compass import towards
from cenote.light.sun import _moon_ecliptic, centuries, declination, moment_of, moon_at, refraction, sun_at

PLACE = 39.742476, -105.1786


class SunTests(unittest.TestCase):
    def test_it_stands_where_the_published_algorithm_has_it(self) -> None:
        """The worked example of Reda and Andreas, "Solar Position Algorithm for Solar Radiation Applications", 2004, table A5.1."""
        moment = datetime(2003, 10, 17, 12, 30, 30, tzinfo=timezone(timedelta(hours=-7)))
        sun = sun_at(moment, *PLACE)
        self.assertAlmostEqual(sun.bearing, 194.34024, delta=0.02)
        self.assertAlmostEqual(sun.height, 90 - 50.11162, delta=0.02)

    def test_at_midsummer_it_is_overhead_on_the_tropic_and_never_sets_beyond_the_polar_circle(self) -> None:
        noon = datetime(2024, 6, 20, 12, 2, tzinfo=UTC)
        self.assertAlmostEqual(sun_at(noon, 23.44, 0).height, 90, delta=0.4)
        heights = [sun_at(noon + timedelta(hours=h), 70, 0).height for h in range(24)]
        self.assertGreater(min(heights), 0)
        self.assertAlmostEqual(max(heights), 90 - 70 + 23.44, delta=0.3)

    def test_it_rises_in_the_east_and_sets_in_the_west_at_the_equinox(self) -> None:
        day = datetime(2024, 3, 20, tzinfo=UTC)
        morning, evening = (sun_at(day + timedelta(hours=h), 52, 0) for h in (6.5, 17.7))
        self.assertAlmostEqual(morning.bearing, 90 + 8, delta=6)
        self.assertAlmostEqual(evening.bearing, 270 - 8, delta=6)
        self.assertGreater(morning.height, 0)

    def test_directions_count_as_the_site_does(self) -> None:
        sun = sun_at(datetime(2020, 5, 5, 9, tzinfo=UTC), *PLACE)
        np.testing.assert_allclose(sun.direction, towards(sun.bearing, sun.height))

    def test_it_leans_north_in_summer_and_not_at_the_equinox(self) -> None:
        found = [np.degrees(declination(moment_of(day, 12))) for day in (172, 355, 79)]
        np.testing.assert_allclose(found, [23.44, -23.44, 0], atol=0.2)

    def test_the_air_lifts_what_stands_low(self) -> None:
        self.assertAlmostEqual(refraction(0.0), 0.48, delta=0.03)
        self.assertLess(refraction(45), 0.02)
        self.assertEqual(refraction(-10), 0)


class MoonTests(unittest.TestCase):
    def test_it_stands_where_the_worked_example_has_it(self) -> None:
        """Meeus, examples 47.a and 48.a: 12 April 1992, 0h; longitude 133.16°, latitude −3.23°, lit 0.68."""
        moment = datetime(1992, 4, 12, tzinfo=UTC)
        along, across, parallax = _moon_ecliptic(centuries(moment))
        self.assertAlmostEqual(along % 360, 133.1627, delta=0.3)
        self.assertAlmostEqual(across, -3.2291, delta=0.2)
        self.assertAlmostEqual(parallax, 0.99199, delta=0.01)
        self.assertAlmostEqual(moon_at(moment, 0, 0).lit, 0.6786, delta=0.01)

    def test_it_is_full_opposite_the_sun_and_new_beside_it(self) -> None:
        full, new = datetime(2024, 4, 23, 23, 49, tzinfo=UTC), datetime(2024, 4, 8, 18, 21, tzinfo=UTC)
        self.assertGreater(moon_at(full, 40, 0).lit, 0.99)
        self.assertLess(moon_at(new, 40, 0).lit, 0.01)
        # The eclipse of that day was seen from here.
        sun, moon = (find(new, 25.3, -104.1) for find in (sun_at, moon_at))
        self.assertGreater(float(sun.direction @ moon.direction), np.cos(np.radians(0.6)))


if __name__ == "__main__":
    unittest.main()
