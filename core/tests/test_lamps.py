"""Lamps and photometric files, against what follows from their definitions."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from cenote.colour import LUMINANCE
from cenote.formats.photometry import read_photometry
from cenote.geometry.pose import Pose
from cenote.light.atmosphere import sphere
from cenote.light.lamps.area import AreaLamp
from cenote.light.lamps.base import LAMPS, SUN_LUX, Lamp
from cenote.light.lamps.line import LineLamp
from cenote.light.lamps.measured import MeasuredLamp
from cenote.light.lamps.point import PointLamp
from cenote.light.lamps.spot import SpotLamp
from cenote.light.received import received
from cenote.light.spectrum import blackbody
from cenote.refused import ImportRefused

WAYS = sphere(200_000)
# From linear sRGB to CIE XYZ.
TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])


def sent(lamp: Lamp, profile: np.ndarray | None = None) -> float:
    """Lumens that go out all around."""
    return float(4 * np.pi * lamp.candela(WAYS, profile).mean())


def photometric(
    down: list[float],
    around: list[float],
    table: list[list[float]],
    lumens: float = 1000,
    head: str = "IESNA:LM-63-2002\n[TEST] none\n",
    kind: int = 1,
) -> bytes:
    """A photometric file."""
    numbers = [[1, lumens, 1, len(down), len(around), kind, 2, 0, 0, 0], [1, 1, 10], down, around, *table]
    return (head + "TILT=NONE\n" + "\n".join(" ".join(f"{one:g}" for one in row) for row in numbers)).encode()


class ColourTests(unittest.TestCase):
    def test_what_glows_has_the_colours_that_were_published(self) -> None:
        # CIE standard illuminant A, 2856 K: x 0.4476, y 0.4074. The curves are fitted ones.
        for kelvin, x, y in (
            (2856, 0.4476, 0.4074),
            (4000, 0.3805, 0.3768),
            (6500, 0.3135, 0.3237),
            (10000, 0.2807, 0.2884),
        ):
            xyz = TO_XYZ @ blackbody(kelvin)
            np.testing.assert_allclose((xyz / xyz.sum())[:2], [x, y], atol=0.004, err_msg=str(kelvin))
        self.assertTrue((blackbody(1000) >= 0).all() and (blackbody(15000) <= 1).all())


class LampTests(unittest.TestCase):
    def test_each_sends_the_lumens_that_it_is_set_to(self) -> None:
        for lamp in (
            PointLamp(lumens=700),
            SpotLamp(lumens=700, angle=40),
            SpotLamp(lumens=700, angle=150, soft=0),
            AreaLamp(lumens=700),
            LineLamp(lumens=700),
        ):
            self.assertAlmostEqual(sent(lamp) / 700, 1, delta=0.02, msg=lamp.kind)
        self.assertAlmostEqual(sent(PointLamp(measure="watts", watts=50, efficacy=12)), 600, delta=1)

    def test_a_beam_is_what_it_sends_along_its_axis(self) -> None:
        down = np.array([[0.0, -1.0, 0.0]])
        for lamp in (PointLamp(), SpotLamp(), AreaLamp(), LineLamp()):
            beam = lamp.beam()
            self.assertAlmostEqual(float(beam.intensity @ LUMINANCE) * SUN_LUX, float(lamp.candela(down)[0]), places=5)

    def test_a_spot_fades_from_where_it_is_soft_to_its_edge(self) -> None:
        spot = SpotLamp(angle=60, soft=0.5)
        angles = np.radians([0, 14.9, 22, 29.9, 30.1, 90, 180])
        found = spot.candela(np.column_stack([np.sin(angles), -np.cos(angles), np.zeros(7)]))
        self.assertAlmostEqual(found[1] / found[0], 1, places=6)
        self.assertTrue(0 < found[3] < found[2] < found[0])
        np.testing.assert_array_equal(found[4:], 0)

    def test_a_surface_shines_to_one_side_and_a_tube_not_along_itself(self) -> None:
        axes = np.array([[0, 1.0, 0], [1.0, 0, 0], [0, -1.0, 0]])
        up, along, down = AreaLamp().candela(axes)
        self.assertEqual((up, along), (0, 0))
        up, along, down = LineLamp().candela(axes)
        self.assertEqual((along, up), (0, down))

    def test_a_tint_takes_away_and_adds_nothing(self) -> None:
        red = PointLamp(tint=(1, 0, 0))
        np.testing.assert_allclose(red.colour[1:], 0)
        self.assertAlmostEqual(red.colour[0], PointLamp().colour[0])

    def test_a_document_tells_them_apart_by_their_kind(self) -> None:
        read: Any = TypeAdapter(LAMPS.union())
        for one in LAMPS:
            given = {"kind": one.model_fields["kind"].default} | ({"source": "a" * 64} if one is MeasuredLamp else {})
            self.assertIsInstance(read.validate_python(given), one)
            self.assertTrue(one.title and one.help)


class ReceivedTests(unittest.TestCase):
    def test_it_falls_with_the_square_of_the_distance_and_the_cosine(self) -> None:
        pose, lamp = Pose(position=(1, 3, 2)).matrix(), PointLamp(lumens=4 * np.pi * 100)
        points = np.array([[1, 2, 2], [1, 1, 2], [4, 3, 2.0]])
        up, tilted = np.array([0, 1.0, 0]), np.array([-np.sqrt(0.5), np.sqrt(0.5), 0])
        level, ways, far = received(lamp, pose, points, np.array([up, up, tilted]))
        np.testing.assert_allclose(far, [1, 2, 3])
        np.testing.assert_allclose(ways[2], [-1, 0, 0], atol=1e-9)
        np.testing.assert_allclose(level @ LUMINANCE * SUN_LUX, [100, 25, 100 / 9 * np.sqrt(0.5)])
        self.assertEqual(float(received(lamp, pose, points[:1], -up[None])[0].max()), 0)

    def test_a_cone_is_where_its_lamp_is_aimed(self) -> None:
        pose = Pose(position=(0, 2, 0), tip=-90).matrix()
        points, back = np.array([[0, 2, 5], [0, 2, -5], [0, 0, 0.0]]), np.array([[0, 0, -1.0], [0, 0, 1], [0, 1, 0]])
        level = received(SpotLamp(angle=40), pose, points, back)[0][:, 0]
        self.assertGreater(level[0], 0)
        np.testing.assert_array_equal(level[1:], 0)


class PhotometricTests(unittest.TestCase):
    def test_an_even_lamp_is_one(self) -> None:
        profile, lumens, remarks = read_photometry("a.ies", photometric([0, 180], [0], [[100, 100]], 4 * np.pi * 100))
        self.assertAlmostEqual(lumens, 4 * np.pi * 100, delta=1)
        self.assertEqual(remarks, [])
        lamp = MeasuredLamp(source="a" * 64, lumens=500)
        np.testing.assert_allclose(lamp.candela(WAYS[:100], profile), 500 / (4 * np.pi), rtol=1e-3)

    def test_a_lambertian_one_sends_its_lumens_and_is_drawn_as_a_cosine(self) -> None:
        down = [float(one) for one in range(0, 181, 5)]
        table = [max(np.cos(np.radians(one)), 0) * 1000 for one in down]
        profile, _, _ = read_photometry("a.ies", photometric(down, [0], [table], np.pi * 1000))
        lamp = MeasuredLamp(source="a" * 64, lumens=800)
        self.assertAlmostEqual(sent(lamp, profile), 800, delta=8)
        self.assertAlmostEqual(lamp.candela(np.array([[0, -1.0, 0]]), profile)[0], 800 / np.pi, delta=1)
        beam = lamp.beam(profile)
        assert beam.profile is not None
        np.testing.assert_allclose(beam.profile[[0, 30, 60]], [1, np.sqrt(3) / 2, 0.5], atol=0.01)

    def test_quarters_and_halves_are_mirrored(self) -> None:
        down, rising = [0, 90, 180], [[0, 1, 0], [0, 2, 0], [0, 3, 0]]
        quarter, _, _ = read_photometry("a.ies", photometric(down, [0, 45, 90], rising))
        half, _, _ = read_photometry("a.ies", photometric(down, [0, 90, 180], rising))
        whole, _, _ = read_photometry("a.ies", photometric(down, [0, 120, 240, 360], [*rising, [0, 1, 0]]))
        for profile, same in ((quarter, (30, 150, 210, 330)), (half, (30, 330)), (whole, (0, 0))):
            level = profile[90]
            for one in same:
                self.assertAlmostEqual(float(level[one] / level[same[0]]), 1, places=5)
        self.assertAlmostEqual(float(whole[90, 180] / whole[90, 0]), 2.5, places=4)

    def test_what_is_told_beside_the_numbers_is_taken_in(self) -> None:
        tilted = photometric([0, 180], [0], [[10, 10]]).replace(
            b"TILT=NONE\n", b"TILT=INCLUDE\n1\n3\n0 45 90\n1 .9 .8\n"
        )
        self.assertIn("How it dims when it is tilted is left out.", read_photometry("a.ies", tilted)[2])
        self.assertIn(
            "and what it shines comes to", read_photometry("a.ies", photometric([0, 180], [0], [[10, 10]], 9000))[2][0]
        )

    def test_what_cannot_be_used_is_refused_with_words(self) -> None:
        good = photometric([0, 90], [0], [[100, 0]])
        for content, words in (
            (b"", "TILT="),
            (b"\0\1\2" * 1000, "TILT="),
            (good[:-6], "ends early"),
            (good.replace(b"100", b"lots"), "lots"),
            (good + b" nan", "none|not finite"),
            (good.replace(b"100", b"1e999"), "not finite"),
            (photometric([0, 90], [0], [[1, 1]], kind=2), "type B"),
            (photometric([90, 0], [0], [[1, 1]]), "do not rise"),
            (photometric([0, 90], [5], [[1, 1]]), "do not rise"),
            (photometric([0, 90], [0], [[0, 0]]), "no light"),
            (good.replace(b" 2 1 1 2", b" 1e9 1e9 1 2"), "cannot be"),
            (b"x" * 5_000_000, "larger than"),
        ):
            with self.subTest(words), self.assertRaisesRegex(ImportRefused, words):
                read_photometry("a.ies", content)
