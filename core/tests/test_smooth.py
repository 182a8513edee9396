"""Smoothing chance away on cells."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.signals.smooth import smoothed


class SmoothTests(unittest.TestCase):
    def setUp(self) -> None:
        self.dice = np.random.default_rng(5)
        self.one_chart = np.zeros((60, 80), np.int32)

    def test_chance_goes_and_the_mean_stays(self) -> None:
        values = (0.4 + self.dice.normal(0, 0.015, (60, 80))).astype(np.float32)
        found = smoothed(values, self.one_chart, 0.015)
        self.assertLess(found[3:-3, 3:-3].std(), 0.33 * 0.015)
        self.assertAlmostEqual(found.mean(), 0.4, delta=0.001)

    def test_a_plain_slope_stays_as_it_is(self) -> None:
        values = np.tile(np.linspace(0, 0.4, 80, dtype=np.float32), (60, 1))
        np.testing.assert_allclose(smoothed(values, self.one_chart, 0.015)[:, 2:-2], values[:, 2:-2], atol=1e-6)

    def test_a_step_larger_than_chance_stays_sharp(self) -> None:
        values = np.where(np.arange(80) < 40, 0.2, 0.5).astype(np.float32) + np.zeros((60, 1), np.float32)
        np.testing.assert_allclose(smoothed(values, self.one_chart, 0.015), values, atol=1e-6)

    def test_neighbours_in_other_charts_and_outside_do_not_count(self) -> None:
        charts = np.where(np.arange(80) < 40, 0, 1).astype(np.int32) + np.zeros((60, 1), np.int32)
        charts[:10] = -1
        values = np.where(np.arange(80) < 40, 0.2, 0.23).astype(np.float32) + np.zeros((60, 1), np.float32)
        found = smoothed(values, charts, 0.015)
        np.testing.assert_allclose(found[10:], values[10:], atol=1e-6)
        self.assertFalse(found[:10].any())
