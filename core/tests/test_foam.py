"""Foam along where water meets what stands in it."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapes import graph_of

from cenote.derive.foam import foam_of, foamed
from cenote.derive.waters import waters
from cenote.geometry.build import box
from cenote.geometry.waterline import away_from, crossings
from cenote.site.document import SiteDocument

WALL = box((-2, -3, 0), (2, 1, 0.5)).corners


class CrossingsTests(unittest.TestCase):
    def test_a_box_is_crossed_along_its_outline(self) -> None:
        lines = crossings(WALL, -0.7)
        length = np.linalg.norm(lines[:, 1] - lines[:, 0], axis=1).sum()
        self.assertAlmostEqual(length, 2 * (4 + 0.5))
        np.testing.assert_allclose(lines.min((0, 1)), (-2, 0), atol=1e-9)
        np.testing.assert_allclose(lines.max((0, 1)), (2, 0.5), atol=1e-9)

    def test_nothing_is_crossed_above_and_below(self) -> None:
        for level in (-3.1, -3.0, 1.01):
            self.assertEqual(crossings(WALL, level).shape, (0, 2, 2), level)

    @settings(max_examples=50, deadline=None, derandomize=True)
    @given(st.lists(st.floats(-3, 3), min_size=9, max_size=9), st.floats(-2, 2))
    def test_both_ends_of_a_crossing_lie_on_the_triangle_at_the_level(self, at: list[float], level: float) -> None:
        triangle = np.array(at).reshape(1, 3, 3)
        heights = triangle[0, :, 1]
        lines = crossings(triangle, level)
        self.assertEqual(len(lines), int((heights >= level).any() and (heights < level).any()))
        low, high = triangle[0].min(0), triangle[0].max(0)
        for end in lines.reshape(-1, 2):
            self.assertTrue((end >= low[[0, 2]] - 1e-9).all() and (end <= high[[0, 2]] + 1e-9).all())


class AwayTests(unittest.TestCase):
    def test_squares_tell_how_far_a_line_is_and_which_way(self) -> None:
        line = np.array([[[-5.0, 0.25], [5.0, 0.25]]])
        far, towards = away_from(line, np.array([0.0, -2.0]), 0.5, (8, 4))
        self.assertEqual(far.shape, (8, 4))
        # The line runs through the squares of row 4, from z = 0 to 0.5.
        np.testing.assert_allclose(far[:, 1], np.abs(np.arange(8) - 4) * 0.5)
        np.testing.assert_allclose(towards[0], np.broadcast_to([0, 1], (4, 2)))
        np.testing.assert_allclose(towards[7], np.broadcast_to([0, -1], (4, 2)))
        self.assertEqual(np.abs(towards[4]).max(), 0)


class FoamTests(unittest.TestCase):
    def test_it_lies_along_the_edge_and_nowhere_else(self) -> None:
        found = foamed(crossings(WALL, 0.0), np.array([1.0, 0.0]), 3.0)
        far, _ = away_from(crossings(WALL, 0.0), found.low, found.cell, found.cover.shape)
        by_far = [found.cover[(far >= a) & (far < a + 0.02)].mean() for a in (0.0, 0.02, 0.06, 0.12)]
        self.assertEqual(by_far, sorted(by_far, reverse=True))
        self.assertGreater(by_far[0], 40)
        self.assertEqual(found.cover[far > 0.35].max(initial=0), 0)

    def test_more_of_it_is_where_the_wind_drives_it(self) -> None:
        lines = crossings(WALL, 0.0)

        def sides(wind: float) -> tuple[float, float]:
            found = foamed(lines, np.array([0.0, 1.0]), wind)
            z = found.low[1] + (np.arange(len(found.cover)) + 0.5) * found.cell
            return float(found.cover[z < 0].sum()), float(found.cover[z > 0.5].sum())

        against, lee = sides(6.0)
        self.assertGreater(against, 1.5 * lee)
        calm = sides(0.0)
        self.assertLess(abs(calm[0] / calm[1] - 1), 0.25)

    def test_there_is_none_where_nothing_stands_in_the_water(self) -> None:
        self.assertEqual(foamed(crossings(WALL, 5.0), np.array([1.0, 0.0]), 3.0).cover.size, 0)

    def test_wide_sites_have_squares_that_can_be_counted_and_less_of_it(self) -> None:
        shore = np.array([[[-900.0, 0.0], [900.0, 700.0]]])
        found = foamed(shore, np.array([1.0, 0.0]), 3.0)
        self.assertLess(found.cover.size, 4e6)
        self.assertLess(found.cover.max(), 40)

    def test_a_site_has_foam_on_each_of_its_waters_unless_it_is_to_have_none(self) -> None:
        hollow = {"centre": [0, 0], "size": [2, 2], "depth": 0.5, "filled": True, "water": 0.1}
        ground = {"ground": {"hollows": [hollow]}}
        graph = graph_of(SiteDocument.model_validate(ground | {"water": {"shown": True, "level": -5, "foam": 30}}))
        there = waters(graph)
        self.assertEqual([len(outline) > 0 for _, outline in there], [False, True])
        found = [graph.get(foam) for one in there if (foam := foam_of(graph.document, *one))]
        self.assertEqual(len(found), 2)
        self.assertEqual(found[0].cover.size, 0)
        self.assertGreater(found[1].cover.max(), 100)
        none = SiteDocument.model_validate(ground | {"water": {"shown": True, "foam": 0}})
        self.assertIsNone(foam_of(none, *there[0]))


if __name__ == "__main__":
    unittest.main()
