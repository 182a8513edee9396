"""Light as it is set, and as it is shown."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError

from cenote.colour import LUMINANCE
from cenote.light.daylight import Light, Panorama, daylight
from cenote.site.document import SiteDocument


def level(**light: float | str) -> float:
    """How brightly level ground is lit, as it is shown."""
    found = daylight(Light(**light), 16)
    return float((found.direct * max(found.direction[1], 0) + found.above) @ LUMINANCE)


class LightTests(unittest.TestCase):
    def test_by_hand_the_sun_stands_where_it_is_put(self) -> None:
        sun = Light(bearing=120, height=30, latitude=-20, hour=3).sun()
        self.assertEqual((sun.bearing, sun.height), (120, 30))

    def test_by_time_it_stands_where_place_and_clock_have_it(self) -> None:
        noon = Light(by="time", latitude=52, longitude=15, zone=1, day=172, hour=12)
        self.assertAlmostEqual(noon.sun().height, 90 - 52 + 23.44, delta=0.1)
        self.assertAlmostEqual(noon.sun().bearing, 180, delta=2)
        self.assertAlmostEqual(noon.model_copy(update={"zone": 2.0}).sun().bearing, 180 - 28, delta=6)
        self.assertLess(Light(by="time", latitude=52, hour=0).sun().height, 0)
        self.assertGreater(Light(by="time", latitude=-52, day=355, hour=12).sun().height, 60)

    def test_what_counts_by_hand_and_by_time_is_declared(self) -> None:
        declared = Light.model_json_schema()["properties"]
        by = {name: one["counts_with"]["by"] for name, one in declared.items() if "counts_with" in one}
        self.assertEqual({name for name, how in by.items() if how == "hand"}, {"bearing", "height"})
        self.assertEqual(
            {name for name, how in by.items() if how == "time"}, {"latitude", "longitude", "day", "hour", "zone"}
        )
        rest = {name for name, how in by.items() if how == ["hand", "time"]}
        self.assertEqual(rest, {"clouds", "cloud_form", "cloud_seed", "haze"})

    def test_a_sky_is_taken_from_a_panorama_once_there_is_one(self) -> None:
        with self.assertRaisesRegex(ValidationError, "import a panorama first"):
            Light(by="panorama")
        lost = Light(by="panorama", panorama=Panorama(source="a" * 64), bearing=90, height=40)
        # Where its file is lost, a sky by hand stands in.
        np.testing.assert_array_equal(
            daylight(lost, 16).around, daylight(lost.model_copy(update={"by": "hand"}), 16).around
        )

    def test_what_was_set_before_there_were_skies_is_taken_over(self) -> None:
        old = SiteDocument.model_validate({"light": {"bearing": 205, "height": 42, "sun": 1.6, "sky": 1.2}})
        self.assertEqual((old.light.sun_strength, old.light.sky_strength, old.light.bearing), (0.5, 1.2, 205))
        self.assertEqual(Light.model_validate({"sun": 10}).sun_strength, 10 / 3.2)
        with self.assertRaisesRegex(ValidationError, "sky_strength"):
            Light.model_validate({"sky": "bright"})
        self.assertEqual(Light.model_validate({"sun_strength": 2, "sun": 3.2}).sun_strength, 2)


class DaylightTests(unittest.TestCase):
    def test_an_eye_makes_up_for_most_of_what_is_dark(self) -> None:
        shown = [level(height=height) for height in (60, 30, 10, 2, -4, -10)]
        self.assertEqual(shown, sorted(shown, reverse=True))
        self.assertGreater(shown[-1], 0.03 * shown[0], "the darkest of them is a hundred thousand times as dark")
        self.assertLess(shown[-1], 0.3 * shown[0])

    def test_a_stop_is_twice_as_bright(self) -> None:
        self.assertAlmostEqual(level(exposure=1) / level(), 2, places=5)

    def test_strengths_count_and_are_not_made_up_for(self) -> None:
        usual, dim, dark = (daylight(Light(**how), 16) for how in ({}, {"sun_strength": 0.5}, {"sky_strength": 0}))
        np.testing.assert_allclose(dim.direct, usual.direct / 2)
        np.testing.assert_allclose(dim.above, usual.above)
        self.assertEqual(float(dark.above.max()), 0)
        np.testing.assert_allclose(dark.direct, usual.direct)

    def test_the_moon_takes_over_once_the_sun_has_set(self) -> None:
        night = daylight(Light(bearing=90, height=-18), 16)
        np.testing.assert_allclose(night.direction, [-np.cos(np.radians(30)), 0.5, 0], atol=1e-6)
        self.assertGreater(float(night.direct @ LUMINANCE), float(night.above @ LUMINANCE))

    def test_without_any_light_there_is_none(self) -> None:
        none = daylight(Light(sun_strength=0, sky_strength=0), 16)
        self.assertEqual(float(none.direct.max() + none.above.max() + none.around.max()), 0)
        self.assertTrue(np.isfinite(none.around).all())

    def test_it_is_read_where_one_looks(self) -> None:
        found = daylight(Light(bearing=90, height=30, clouds=0), 32)
        ways = np.array([[0, 1.0, 0], [0, 0, -1.0], [0, -0.6, -0.8], [0.866, 0.5, 0]])
        zenith, north, below, sun = found.at(ways)
        np.testing.assert_allclose(zenith, found.zenith, rtol=0.2)
        np.testing.assert_allclose(below, north, rtol=1e-5)
        self.assertGreater(float(sun @ LUMINANCE), 2 * float(zenith @ LUMINANCE))

    def test_ground_and_sky_are_the_mean_of_what_is_all_around(self) -> None:
        found = daylight(Light(clouds=1), 64)
        # An overcast sky of radiance (1 + 2 sin h) / 3 at its zenith sends 7 π / 9 of it down.
        np.testing.assert_allclose(found.above, found.zenith * 7 * np.pi / 9, rtol=0.03)


if __name__ == "__main__":
    unittest.main()
