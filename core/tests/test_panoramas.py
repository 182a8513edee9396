"""Panoramas: files in, and the sky that is taken from one."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import numpy as np
import OpenEXR
from radiance import written

from cenote.colour import LUMINANCE
from cenote.formats.panoramas import read_panorama, read_radiance
from cenote.light.daylight import Light, Panorama, above, daylight
from cenote.light.pictured import USUAL, PicturedSky
from cenote.light.sky import panorama, ways_of
from cenote.refused import ImportRefused


def around(rows: int = 64) -> np.ndarray:
    """Ways to the pixels of a panorama, (rows, 2 × rows, 3)."""
    return ways_of(lambda share: (0.5 - share) * np.pi, rows, 2 * rows).reshape(rows, 2 * rows, 3)


def with_sun(bearing: float, height: float, rows: int = 256, strength: float = 4000) -> np.ndarray:
    """An even blue sky over grey ground, and a sun a degree wide in it."""
    ways = around(rows)
    turn, up = np.radians([bearing, height])
    at = np.array([np.cos(up) * np.sin(turn), np.sin(up), -np.cos(up) * np.cos(turn)])
    sky = np.where(ways[..., 1:2] > 0, [0.3, 0.5, 1.0], [0.2, 0.2, 0.2])
    return np.where(ways @ at > np.cos(np.radians(0.5)), strength, 0)[..., None] * [1.0, 0.9, 0.7] + sky


def exr(pixels: np.ndarray, **channels: np.ndarray) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.exr"
        planes = channels or {"RGB": np.ascontiguousarray(pixels, np.float32)}
        OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, planes).write(str(path))
        return path.read_bytes()


class FileTests(unittest.TestCase):
    def test_a_radiance_picture_is_read_as_it_was_written(self) -> None:
        pixels = np.random.default_rng(1).uniform(0, 9, (32, 64, 3)) ** 3
        pixels[:, 10:40] = pixels[:, 10:11]
        for runs in (True, False):
            found = read_radiance("a.hdr", written(pixels, runs))
            # Eight bits under a shared exponent: half a step of the greatest channel.
            self.assertLess((np.abs(found - pixels) / pixels.max(2, keepdims=True)).max(), 1 / 128)

    def test_an_exr_is_read_in_colour_and_in_grey(self) -> None:
        pixels = np.random.default_rng(2).uniform(0, 5, (32, 64, 3)).astype(np.float32)
        np.testing.assert_allclose(read_panorama("a.exr", exr(pixels))[0], pixels, rtol=2e-3)
        grey = read_panorama("a.exr", exr(pixels, Y=np.ascontiguousarray(pixels[..., 0])))[0]
        np.testing.assert_allclose(grey[..., 2], pixels[..., 0], rtol=2e-3)

    def test_a_large_one_is_kept_smaller_with_all_its_light(self) -> None:
        pixels = np.random.default_rng(3).uniform(0, 5, (1500, 3000, 3)).astype(np.float32)
        kept, remarks = read_panorama("a.exr", exr(pixels))
        self.assertEqual(kept.shape, (1024, 2048, 3))
        self.assertIn("Kept at 2048 × 1024 points.", remarks)
        self.assertAlmostEqual(float(kept.mean(dtype=np.float64)), float(pixels.mean()), delta=0.01)

    def test_what_is_too_bright_or_below_nothing_is_told(self) -> None:
        pixels = np.ones((16, 32, 3), np.float32)
        pixels[0, 0], pixels[5, 5] = 1e6, -2
        kept, remarks = read_panorama("a.exr", exr(pixels))
        self.assertTrue(np.isfinite(kept).all() and kept.min() >= 0)
        self.assertEqual(len(remarks), 2)

    def test_what_cannot_be_used_is_refused_with_words(self) -> None:
        good = written(np.ones((16, 32, 3)), True)
        with_nan = np.ones((16, 32, 3), np.float32)
        with_nan[3, 3] = np.nan
        for content, words in (
            (b"", "neither a Radiance"),
            (b"\x89PNG\r\n\x1a\n", "neither a Radiance"),
            (good[:-9], "ends early"),
            (good.replace(b"-Y 16", b"+Y 16"), "head is damaged"),
            (good.replace(b"32-bit_rle_rgbe", b"32-bit_rle_xyze"), "red, green and blue"),
            (b"#?RADIANCE\n\n-Y 999999 +X 999999\n", "at most"),
            (written(np.ones((32, 32, 3)), True), "twice as wide as high"),
            (written(np.zeros((16, 32, 3)), True), "black all over"),
            (exr(with_nan), "not finite"),
            (exr(with_nan, Z=np.ones((16, 32), np.float32)), "neither red"),
            (b"\x76\x2f\x31\x01 and nothing more", "cannot be read|not an EXR"),
            (exr(np.ones((4, 8, 3))), "too few"),
        ):
            with self.subTest(words), self.assertRaisesRegex(ImportRefused, words):
                read_panorama("a.hdr", content)


class PicturedSkyTests(unittest.TestCase):
    def test_its_sun_is_found_where_it_is_and_sends_what_it_sent(self) -> None:
        for bearing, height in ((30, 20), (200, 55), (359.5, 40)):
            sky = PicturedSky(with_sun(bearing, height))
            (sun,) = sky.direct
            found = np.degrees(np.arctan2(sun.direction[0], -sun.direction[2])) % 360
            self.assertLess(abs((found - bearing + 180) % 360 - 180), 1.0)
            self.assertAlmostEqual(np.degrees(np.arcsin(sun.direction[1])), height, delta=1.0)
            # All that its disc sends, against the even sky.
            share = sun.light @ LUMINANCE / (sky.radiance(np.array([[0, 1.0, 0]]))[0] @ LUMINANCE)
            pixels, up = with_sun(bearing, height), np.arcsin(around(256)[..., 1])
            each = (np.cos(up) * (np.pi / 256) ** 2)[..., None]
            sent = ((pixels - [0.3, 0.5, 1.0]) * (pixels[..., :1] > 100) * each).sum((0, 1))
            self.assertAlmostEqual(share / (sent @ LUMINANCE / (LUMINANCE @ [0.3, 0.5, 1.0])), 1, delta=0.02)

    def test_an_even_sky_has_no_sun_and_lights_as_a_usual_day(self) -> None:
        for level in (0.001, 1, 5000):
            sky = PicturedSky(np.full((64, 128, 3), level))
            self.assertEqual(sky.direct, [])
            self.assertAlmostEqual(float(sky.on_ground @ LUMINANCE), USUAL, places=3)
            np.testing.assert_allclose(panorama(sky, 16), USUAL / np.pi, rtol=1e-2)

    def test_it_is_turned_clockwise_with_its_sun(self) -> None:
        pixels = with_sun(80, 30)
        one, other = PicturedSky(pixels), PicturedSky(pixels, 90)
        np.testing.assert_allclose(panorama(other, 32), np.roll(panorama(one, 32), 16, axis=1), rtol=1e-3, atol=1e-5)
        east, up, south = one.direct[0].direction
        np.testing.assert_allclose(other.direct[0].direction, [-south, up, east], atol=1e-9)

    def test_the_view_sees_its_sun_and_is_lit_by_it_once(self) -> None:
        light = Light(by="panorama", panorama=Panorama(source="a" * 64))
        pixels = with_sun(180, 40).astype(np.float16)
        lit, seen = daylight(light, 64, pixels), above(light, 64, 256, pixels)
        self.assertGreater(seen.dome[..., :3].max(), 50 * lit.around.max())
        self.assertEqual((len(seen.discs), len(seen.stars)), (0, 0))
        self.assertGreater(float(lit.direct @ LUMINANCE), 0)
        np.testing.assert_allclose(lit.direction, [0, np.sin(np.radians(40)), np.cos(np.radians(40))], atol=0.02)
