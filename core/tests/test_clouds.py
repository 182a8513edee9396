"""Clouds and stars, against what is known of them without looking."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.colour import LUMINANCE
from cenote.light.clouds import FORMS, field, look
from cenote.light.daylight import Light, above
from cenote.light.sky import Sky, dome, panorama
from cenote.light.stars import COUNT, stars
from cenote.light.sun import Placed, moment_of, sun_at, turned_sky

UP = np.array([[0.0, 1.0, 0.0]])


def overhead(width: float, across: int) -> np.ndarray:
    """Ways to a grid of places on a level a kilometre up."""
    x, z = np.meshgrid(np.linspace(-width, width, across), np.linspace(-width, width, across))
    ways = np.column_stack([x.ravel(), np.full(x.size, 1.0), z.ravel()])
    return ways / np.linalg.norm(ways, axis=1, keepdims=True)


def passes(form: str, share: float, ways: np.ndarray, seed: int = 0) -> np.ndarray:
    nothing = np.zeros((1, 3))
    return look(field(form, seed), share, ways, UP, nothing, np.zeros(3), np.zeros(3))[1]


class CloudTests(unittest.TestCase):
    def test_they_cover_the_share_that_is_asked_for_and_none_is_none(self) -> None:
        # Seen from below, over a part of the sky wide enough for many; a way that slants meets a few more.
        ways = overhead(1.0, 70)
        for form in FORMS:
            # A form's own share of what its field covers, over many seeds: one sky overhead has a few clouds only.
            for share in (0.2, 0.5, 0.8):
                hidden = np.mean([(passes(form, share, ways, seed) < 0.97).mean() for seed in range(8)])
                self.assertAlmostEqual(hidden, share, delta=0.13, msg=f"{form} {share}")
            self.assertTrue((passes(form, 0.0, ways) == 1).all())
            self.assertGreater((passes(form, 1.0, ways) < 0.97).mean(), 0.97, form)

    def test_more_only_add(self) -> None:
        ways = overhead(3.0, 60)
        for form in FORMS:
            few, more = passes(form, 0.3, ways), passes(form, 0.5, ways)
            self.assertTrue((more <= few + 0.05).all(), form)
            self.assertLess(more.mean(), few.mean())

    def test_the_same_seed_gives_the_same_sky_and_another_another(self) -> None:
        ways = overhead(2.0, 40)
        np.testing.assert_array_equal(passes("cumulus", 0.5, ways, 3), passes("cumulus", 0.5, ways, 3))
        self.assertGreater(np.abs(passes("cumulus", 0.5, ways, 3) - passes("cumulus", 0.5, ways, 4)).mean(), 0.1)

    def test_they_part_before_the_sun(self) -> None:
        for height in (10, 40, 80):
            sun = Placed(120, height).direction[None]
            got = look(field("cumulus", 0), 0.6, sun, sun, np.ones((1, 3)), np.ones(3), np.ones(3))[1]
            self.assertGreater(got[0], 0.1)
        overcast = look(field("cumulus", 0), 1.0, sun, sun, np.ones((1, 3)), np.ones(3), np.ones(3))[1]
        self.assertLess(overcast[0], 0.01)

    def test_what_is_thick_is_dark_below_and_bright_towards_the_sun(self) -> None:
        sun = Placed(180, 35).direction[None]
        ways = overhead(6.0, 120)
        light, left, _ = look(field("cumulus", 1), 0.4, ways, sun, np.ones((1, 3)), np.full(3, 0.15), np.full(3, 0.1))
        sent = (light[:, 1] / np.maximum(1 - left, 1e-3))[left < 0.05]
        # A white sheet that the sun faces would send 1 / π; bases are a fifth of what is brightest.
        self.assertLess(np.percentile(sent, 5) * 4, np.percentile(sent, 95))
        self.assertTrue(0.05 < np.percentile(sent, 95) < 1.0)


class SeenSkyTests(unittest.TestCase):
    def test_level_ground_gets_what_was_measured_whatever_is_seen(self) -> None:
        rows = 64
        up = (0.5 - (np.arange(rows) + 0.5) / rows) * np.pi
        falls = (np.sin(up) * np.cos(up) * (np.pi / rows) ** 2)[: rows // 2, None, None]
        for form in FORMS:
            for share in (0.3, 0.7, 1.0):
                sky = Sky(Placed(180, 40), None, 1.0, share, form)
                seen = (panorama(sky, rows)[: rows // 2] * falls).sum((0, 1)) @ LUMINANCE
                wanted = sky._from_above(sky.radiance) @ LUMINANCE
                self.assertAlmostEqual(seen / wanted, 1, delta=0.2, msg=f"{form} {share}")

    def test_the_dome_and_the_panorama_tell_of_one_sky(self) -> None:
        sky = Sky(Placed(90, 30), None, 1.0, 0.0)
        wide, around = dome(sky, 64, 256), panorama(sky, 128)
        # Row 45 of 64 lies 45.5² / 64² of a right angle up.
        height = (45.5 / 64) ** 2 * 90
        row = round((0.5 - height / 180) * 128 - 0.5)
        np.testing.assert_allclose(wide[45, ::16, :3], around[row, ::16], rtol=0.12)
        self.assertTrue((wide[..., 3] == 1).all())

    def test_all_that_is_seen_is_finite_and_above_nothing_at_every_hour(self) -> None:
        for height in (-18, -6, -0.3, 0.3, 20, 90):
            for form in FORMS:
                found = above(Light(height=height, clouds=0.5, cloud_form=form), 24, 64)
                self.assertTrue(np.isfinite(found.dome).all() and (found.dome >= 0).all(), (height, form))
                self.assertEqual(len(found.stars) > 0, height < -4)

    def test_sun_and_moon_are_as_wide_and_send_as_much_as_they_light(self) -> None:
        sky = Light(height=30, clouds=0).sky()
        (sun,) = sky.discs
        self.assertIsNone(sun.lit_from)
        np.testing.assert_allclose(sun.radiance * np.pi * sun.radius**2, sky.direct[0].light, rtol=1e-6)
        night = Light(height=-12).sky().discs
        self.assertEqual(len(night), 1)
        np.testing.assert_allclose(night[0].lit_from, Light(height=-12).sun().direction)


class StarTests(unittest.TestCase):
    def test_they_are_spread_evenly_and_few_are_bright(self) -> None:
        ways, light = stars()
        self.assertEqual(len(ways), COUNT)
        self.assertLess(np.linalg.norm(ways.mean(0)), 0.05)
        magnitude = -2.5 * np.log10(light.mean(1)) - 26.74
        ratio = (magnitude < 5).sum() / (magnitude < 3).sum()
        self.assertAlmostEqual(np.log10(ratio), 2 * 0.51, delta=0.12)

    def test_they_turn_as_the_sun_does(self) -> None:
        # A star that stands where the sun does among the stars is seen where the sun is, at all places and times of a day.
        for latitude, longitude, day, hour in ((52, 0, 79, 9.0), (-30, 140, 172, 3.0), (0, -60, 265, 20.0)):
            moment = moment_of(day, hour)
            sun = sun_at(moment, latitude, longitude)
            ways = turned_sky(moment, latitude, longitude).T @ sun.direction
            up = np.degrees(np.arcsin(ways[1]))
            other = (
                turned_sky(moment, -latitude / 2, longitude + 77).T
                @ sun_at(moment, -latitude / 2, longitude + 77).direction
            )
            np.testing.assert_allclose(other, ways, atol=0.012, err_msg=f"{day} {up}")

    def test_the_pole_stands_as_high_as_the_latitude_due_north(self) -> None:
        pole = turned_sky(moment_of(100, 5), 40, 10) @ np.array([0.0, 1.0, 0.0])
        np.testing.assert_allclose(pole, [0, np.sin(np.radians(40)), -np.cos(np.radians(40))], atol=1e-9)
