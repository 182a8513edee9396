"""Counter-based randomness: the same everywhere, even, and independent of order."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.randomness import gradient_noise, key_of, layered_noise, uniforms
from cenote.signals.noise import world_noise


class UniformTests(unittest.TestCase):
    def test_known_values_hold_on_every_machine(self) -> None:
        # Written down once: if these change, every site would be planted anew.
        keys = np.array([1, 2, 2**63], np.uint64)
        np.testing.assert_allclose(uniforms(keys, 0), [0.5665616, 0.5911897, 0.2817192], atol=1e-6)
        self.assertEqual(int(key_of("scatter", "meadow", 1)), int(key_of("scatter", "meadow", 1)))
        self.assertNotEqual(key_of("ab", "c"), key_of("a", "bc"))

    def test_even_and_uncorrelated_between_channels(self) -> None:
        keys = np.arange(200_000, dtype=np.uint64)
        a, b = uniforms(keys, 0), uniforms(keys, 1)
        self.assertTrue((a >= 0).all() and (a < 1).all())
        counts = np.histogram(a, 20, (0, 1))[0]
        # Chi-squared of 19 degrees of freedom: 43.8 is passed once in a thousand.
        self.assertLess(((counts - 10_000) ** 2 / 10_000).sum(), 43.8)
        self.assertLess(abs(np.corrcoef(a, b)[0, 1]), 0.01)

    def test_a_row_does_not_depend_on_its_neighbours(self) -> None:
        keys = np.arange(1000, dtype=np.uint64)
        order = np.random.default_rng(0).permutation(1000)
        np.testing.assert_array_equal(uniforms(keys, 3)[order], uniforms(keys[order], 3))


class NoiseTests(unittest.TestCase):
    def test_zero_at_lattice_points_and_bounded(self) -> None:
        for x, y, z in ((0, 0, 0), (3, -2, 5), (-7, 11, 2)):
            self.assertAlmostEqual(gradient_noise(float(x), float(y), float(z), np.uint32(4)), 0, places=12)
        points = np.random.default_rng(1).uniform(-50, 50, (4000, 3))
        values = np.array([layered_noise(x, y, z, 5, np.uint32(9)) for x, y, z in points])
        self.assertTrue((values >= 0).all() and (values <= 1).all())
        self.assertAlmostEqual(values.mean(), 0.5, delta=0.02)
        self.assertGreater(values.std(), 0.08)

    def test_noise_at_many_points_is_that_at_each(self) -> None:
        points = np.random.default_rng(8).normal(0, 30, (700, 3)).astype(np.float32)
        seed = np.uint32(int(key_of("noise", 6)) & 0xFFFFFFFF)
        each = [layered_noise(*(float(one) for one in point / 2.0), 3, seed) for point in points]
        np.testing.assert_array_equal(world_noise(points, 2.0, 3, 6), np.array(each, np.float32))

    def test_points_in_one_cube_and_in_many_lie_in_the_same_patches(self) -> None:
        line = np.column_stack([np.linspace(0, 5, 1000), np.full(1000, 0.3), np.full(1000, 0.7)]).astype(np.float32)
        order = np.random.default_rng(2).permutation(len(line))
        for look in ("cells", "patches"):
            walked, hopped = world_noise(line, 0.8, 1, 3, look), world_noise(line[order], 0.8, 1, 3, look)
            np.testing.assert_array_equal(walked[order], hopped)
        self.assertLess(len(np.unique(walked)), 20, "a point's own number holds for all of its cell")

    def test_world_noise_changes_slowly_over_less_than_its_size(self) -> None:
        line = np.column_stack([np.linspace(0, 30, 3000), np.zeros(3000), np.zeros(3000)]).astype(np.float32)
        steps = np.abs(np.diff(world_noise(line, 3.0, 1, 1)))
        self.assertLess(steps.max(), 0.02)
        self.assertFalse(np.array_equal(world_noise(line, 3.0, 1, 1), world_noise(line, 3.0, 1, 2)))
