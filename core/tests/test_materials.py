"""Materials: they tile without a seam, and keep to what materials can have."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.materials.base import MATERIALS, cells_of, courses, grid, wrapped_noise

PIXELS = 256


def seam(channel: np.ndarray) -> float:
    """The mean step across the tile's edges against the mean step inside it; near 1 where no seam is seen."""
    across = [np.abs(channel[:, 0] - channel[:, -1]).mean(), np.abs(channel[0] - channel[-1]).mean()]
    inside = [np.abs(np.diff(channel, axis=1)).mean(), np.abs(np.diff(channel, axis=0)).mean()]
    return max(a / max(b, 1e-9) for a, b in zip(across, inside, strict=True))


class MaterialTests(unittest.TestCase):
    def test_tiles_meet_themselves(self) -> None:
        for material in MATERIALS:
            with self.subTest(material.kind):
                tile = material().bake(PIXELS)
                self.assertLess(seam(wrapped_noise(*grid(PIXELS), 6, 3, "x")), 1.5)
                # Joints along the edge of a tile are steps that belong there; a seam would be many times as large.
                self.assertLess(seam(tile.height), 8)
                shifted = np.roll(tile.albedo.mean(2), PIXELS // 2, (0, 1))
                self.assertLess(seam(shifted), 8)

    def test_values_are_what_materials_can_have(self) -> None:
        for material in MATERIALS:
            with self.subTest(material.kind):
                tile = material().bake(PIXELS)
                self.assertEqual(tile.albedo.shape, (PIXELS, PIXELS, 3))
                self.assertTrue((tile.albedo >= 0).all() and (tile.albedo <= 0.92).all())
                for channel in (tile.height, tile.roughness, tile.metalness):
                    self.assertTrue((channel >= 0).all() and (channel <= 1).all())
                    self.assertEqual(channel.dtype, np.float32)
                self.assertEqual(tile.packed().shape, (PIXELS, PIXELS, 6))
                self.assertGreater(tile.height.std(), 0.005)

    def test_a_seed_is_a_variant(self) -> None:
        brick = MATERIALS["brick"]()
        np.testing.assert_array_equal(brick.bake(64, 1).albedo, brick.bake(64, 1).albedo)
        self.assertGreater(np.abs(brick.bake(64, 1).albedo - brick.bake(64, 2).albedo).mean(), 0.005)

    def test_mortar_lies_lower_than_brick_and_bricks_differ(self) -> None:
        tile = MATERIALS["brick"]().bake(512)
        x, y = grid(512)
        wall = courses(x, y, 8, 24)
        middle, joint = wall.edge > 0.012, wall.edge < 0.001
        self.assertGreater(tile.height[middle].mean(), tile.height[joint].mean() + 0.3)
        tones = [tile.albedo[middle & (wall.ids == id)].mean() for id in np.unique(wall.ids)]
        self.assertGreater(np.std(tones) / np.mean(tones), 0.1)


class PatternTests(unittest.TestCase):
    def test_noise_repeats_after_a_tile(self) -> None:
        x, y = grid(64)
        a = wrapped_noise(x, y, 5, 4, "n")
        np.testing.assert_allclose(wrapped_noise(x + 1, y - 2, 5, 4, "n"), a, atol=1e-9)

    def test_cells_are_as_many_as_asked_for_and_wrap(self) -> None:
        x, y = grid(128)
        cells = cells_of(x, y, 6, 0.8, "c")
        self.assertEqual(len(np.unique(cells.ids)), 36)
        self.assertTrue((cells.edge >= 0).all())
        np.testing.assert_array_equal(cells_of(x + 1, y + 1, 6, 0.8, "c").ids, cells.ids)

    def test_courses_are_shifted_by_half(self) -> None:
        x, y = grid(240)
        wall = courses(x, y, 4, 6)
        self.assertEqual(len(np.unique(wall.ids)), 24)
        first, second = wall.ids[5], wall.ids[45]
        self.assertEqual(np.flatnonzero(np.diff(first))[0] - np.flatnonzero(np.diff(second))[0], 30)
