"""Moods: what they set, what they leave, and that the shipped ones are as different as their names say."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.colour import LUMINANCE
from cenote.finish.base import Negative, finished
from cenote.finish.masks import Masks
from cenote.finish.steps.exposure import Exposure
from cenote.light.air import Air
from cenote.light.daylight import Light, daylight
from cenote.site.document import Shot, SiteDocument
from cenote.site.finish import Finish
from cenote.site.moods import SHIPPED_MOODS, Mood, mood_of
from cenote.weather.climate import Climate


def under(document: SiteDocument, mood: Mood) -> SiteDocument:
    """A document as the page puts it under a mood."""
    values = document.model_dump(mode="json")
    for group, changes in mood.changes().items():
        values[group] |= changes
    return SiteDocument.model_validate(values)


class MoodTests(unittest.TestCase):
    site = SiteDocument(light=Light(bearing=77, latitude=-12, cloud_seed=9), climate=Climate(years=40, damp=0.2))

    def test_where_the_sun_comes_from_stays_the_site_s_own(self) -> None:
        for one in SHIPPED_MOODS:
            found = under(self.site, one.mood)
            self.assertEqual((found.light.bearing, found.light.latitude, found.light.cloud_seed), (77, -12, 9))
            self.assertEqual(found.light.height, one.mood.light.height)
            self.assertEqual(found.air, one.mood.air)
            self.assertEqual(found.climate, self.site.climate)

    def test_there_are_eight_and_they_differ(self) -> None:
        self.assertEqual(len({one.kind for one in SHIPPED_MOODS}), 8)
        looks = {one.kind: daylight(one.mood.light, air=one.mood.air) for one in SHIPPED_MOODS}
        shares = {kind: float(shown.direct @ LUMINANCE * max(shown.direction[1], 0) / (shown.above @ LUMINANCE))
                  for kind, shown in looks.items()}  # fmt: skip
        self.assertGreater(shares["clear_forenoon"], 3)
        for shadowless in ("even_grey", "drizzle", "thick_fog", "after_sunset"):
            self.assertLess(shares[shadowless], 0.1)
        red = {kind: float(shown.direct[0] / max(shown.direct[2], 1e-9)) for kind, shown in looks.items()}
        self.assertGreater(red["late_gold"], 1.5 * red["clear_forenoon"])
        # By night an eye makes much of little.
        self.assertGreater(looks["nightfall"].scale, 20 * looks["clear_forenoon"].scale)

    def test_each_has_a_grade_that_is_slight(self) -> None:
        grey = np.linspace(0.02, 0.8, 24, dtype=np.float32).repeat(24 * 3).reshape(24, 24, 3)
        negative = Negative(
            grey,
            {},
            np.full((24, 24), 9, np.float32),
            Masks(*(np.ones((24, 24, n), np.float32).squeeze() for n in (1, 2, 1))),
        )
        plain = finished(negative, ())
        for one in SHIPPED_MOODS:
            with self.subTest(one.kind):
                graded = finished(negative, one.mood.grade.steps)
                self.assertGreater(np.abs(graded - plain).max(), 0.01)
                self.assertLess(np.abs(graded - plain).mean(), 0.12)

    def test_the_finish_that_most_shots_share_is_kept_with_a_mood(self) -> None:
        # What is done to a single thing of this site is of no use to others.
        steps = (Exposure(stops=1), Exposure(stops=2, within="chosen", objects=("ground",)))
        finishes = (Finish(id="a", steps=steps), Finish(id="b"))
        shots = tuple(Shot(id=str(row), finish=one) for row, one in enumerate(("b", "a", "a", "")))
        self.assertEqual(mood_of(SiteDocument(shots=shots, finishes=finishes)).grade.steps, (Exposure(stops=1),))
        self.assertEqual(mood_of(SiteDocument(shots=shots[3:], finishes=finishes)).grade.steps, ())

    def test_a_site_s_own_is_kept_with_the_sun_where_it_stands(self) -> None:
        timed = self.site.model_copy(
            update={"light": Light(by="time", latitude=52, day=172, hour=12), "air": Air(dust=40)}
        )
        kept = mood_of(timed)
        self.assertEqual((kept.light.by, kept.air.dust), ("hand", 40))
        self.assertAlmostEqual(kept.light.height, timed.light.sun().height, delta=0.06)
        self.assertEqual(under(self.site, mood_of(self.site)), self.site)


if __name__ == "__main__":
    unittest.main()
