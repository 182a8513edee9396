"""Colour, compass, cameras, barycentric coordinates, rays straight down: each at home in one place, each with a known answer."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import square

from cenote.colour import LUMINANCE, SRGB_BYTES, linear_of, srgb_bytes, srgb_of
from cenote.geometry.barycentric import weights_of
from cenote.geometry.build import box
from cenote.geometry.camera import Camera
from cenote.geometry.compass import blown_from, towards
from cenote.geometry.rays import RayScene


class ColourTests(unittest.TestCase):
    def test_values_of_the_standard(self) -> None:
        # Half of sRGB is 21.4 % of the light; the two pieces of the curve meet at 0.0031308.
        np.testing.assert_allclose(
            linear_of(np.array([0.0, 0.04045, 0.5, 1.0])), [0, 0.0031308, 0.214041, 1], atol=1e-6
        )
        np.testing.assert_allclose(srgb_of(np.array([0.0, 0.0031308, 0.214041, 1.0])), [0, 0.04045, 0.5, 1], atol=1e-5)

    def test_bytes_survive_there_and_back(self) -> None:
        shown = np.arange(256, dtype=np.uint8)
        np.testing.assert_allclose(linear_of(shown), linear_of(shown / 255), atol=1e-12)
        back = srgb_bytes(np.repeat(linear_of(shown)[:, None], 3, axis=1))
        # Where the curve is steep a byte stands for less than a step of the table.
        self.assertLessEqual(np.abs(back[:, 0].astype(int) - shown).max(), 1)
        self.assertEqual((SRGB_BYTES[0], SRGB_BYTES[-1]), (0, 255))

    def test_alpha_is_not_encoded(self) -> None:
        np.testing.assert_array_equal(srgb_bytes(np.array([[0.0, 1.0, 2.0, 0.5]])), [[0, 255, 255, 128]])

    def test_white_has_a_luminance_of_one(self) -> None:
        self.assertAlmostEqual(float(LUMINANCE.sum()), 1)


class CompassTests(unittest.TestCase):
    def test_the_four_winds_and_the_zenith(self) -> None:
        for bearing, way in ((0, [0, 0, -1]), (90, [1, 0, 0]), (180, [0, 0, 1]), (270, [-1, 0, 0])):
            np.testing.assert_allclose(towards(bearing), way, atol=1e-12)
        np.testing.assert_allclose(towards(123, 90), [0, 1, 0], atol=1e-12)
        np.testing.assert_allclose(towards(90, 30), [np.sqrt(0.75), 0.5, 0], atol=1e-12)

    def test_wind_from_the_west_blows_east(self) -> None:
        np.testing.assert_allclose(blown_from(270), [1, 0], atol=1e-12)
        np.testing.assert_allclose(blown_from(0), [0, 1], atol=1e-12)


class CameraTests(unittest.TestCase):
    def test_the_middle_looks_ahead_and_the_corners_span_the_angle(self) -> None:
        camera = Camera.looking((0, 1, 5), (0, 1, 0), 1.5 * np.tan(np.radians(30)), np.tan(np.radians(30)))
        eyes, ways = camera.rays(301, 201)
        ways = ways.reshape(201, 301, 3)
        np.testing.assert_allclose(ways[100, 150], [0, 0, -1], atol=1e-6)
        np.testing.assert_allclose(eyes[7], [0, 1, 5])
        np.testing.assert_allclose(np.linalg.norm(ways, axis=2), 1, atol=1e-6)
        top, right = ways[0, 150], ways[100, -1]
        self.assertAlmostEqual(float(np.degrees(np.arctan2(top[1], -top[2]))), 30 * 200 / 201, delta=0.1)
        self.assertAlmostEqual(float(right[0] / -right[2]), 1.5 * np.tan(np.radians(30)) * 300 / 301, places=5)
        self.assertGreater(top[1], 0)

    def test_straight_down_and_nowhere_are_cameras_too(self) -> None:
        down = Camera.looking((2, 9, 2), (2, 0, 2), 0.36, 0.36)
        np.testing.assert_allclose(down.ahead, [0, -1, 0])
        self.assertAlmostEqual(float(down.up @ down.ahead), 0)
        still = Camera.looking((1, 1, 1), (1, 1, 1), 0.36, 0.36)
        np.testing.assert_allclose(still.ahead, [0, 0, -1])


class BarycentricTests(unittest.TestCase):
    def test_corners_edges_and_middles(self) -> None:
        triangle = np.array([[[0, 0, 0], [2, 0, 0], [0, 3, 0]]], np.float32).repeat(4, axis=0)
        points = np.array([[0, 0, 0], [1, 1.5, 0], [2 / 3, 1, 0], [2, 0, 0]], float)
        found = weights_of(triangle, points)
        np.testing.assert_allclose(found, [[1, 0, 0], [0, 0.5, 0.5], [1 / 3, 1 / 3, 1 / 3], [0, 1, 0]], atol=1e-6)

    def test_points_are_found_again(self) -> None:
        random = np.random.default_rng(3)
        corners = random.normal(size=(50, 3, 3))
        weights = random.dirichlet((1, 1, 1), 50)
        points = np.einsum("nk,nki->ni", weights, corners)
        np.testing.assert_allclose(weights_of(corners, points), weights, atol=1e-6)

    def test_a_sliver_gives_numbers(self) -> None:
        flat = np.array([[[0, 0, 0], [1, 0, 0], [2, 0, 0]]], float)
        self.assertTrue(np.isfinite(weights_of(flat, np.array([[1.0, 0, 0]]))).all())


class FromAboveTests(unittest.TestCase):
    def test_the_uppermost_is_met_and_nothing_is_told_apart(self) -> None:
        table = box((-1, 0.8, -1), (1, 1, 1)).corners
        rays = RayScene(np.concatenate([square(10), table]))
        rows, heights = rays.from_above(np.array([0.0, 3.0, 9.0]), np.array([0.0, 3.0, 0.0]), 5.0)
        np.testing.assert_allclose(heights[:2], [1, 0], atol=1e-6)
        self.assertEqual(heights[2], -np.inf)
        self.assertTrue(rows[0] >= 2 > rows[1] >= 0 > rows[2])
