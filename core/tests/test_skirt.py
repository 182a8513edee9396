"""Land beyond the edge: it joins the edge without a gap, faces up, and goes over into level land."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.geometry.ground import height_field
from cenote.geometry.skirt import border, outer_points, skirt


def edge_of(size: tuple[float, float], spacing: float, heights=lambda x, z: 0 * x) -> np.ndarray:
    """The edge of a piece of ground."""
    x, z = height_field(size, spacing)
    at = border(*x.shape)
    points = np.stack([x, heights(x, z), z], -1).reshape(-1, 3)
    return points[at]


class SkirtTests(unittest.TestCase):
    def test_the_border_goes_once_round(self) -> None:
        at = border(3, 4)
        self.assertEqual(at.tolist(), [0, 1, 2, 3, 7, 11, 10, 9, 8, 4, 0])

    def test_it_is_one_sheet_whose_only_edges_are_the_grounds_and_the_horizon(self) -> None:
        for size, spacing in (((20, 12), 0.5), ((7, 31), 1.0), ((4, 4), 0.3)):
            edge = edge_of(size, spacing, lambda x, z: np.sin(x) + z * 0.1)
            positions, faces, _ = skirt(edge, 500)
            # The first point comes once more at the end of each ring: the same place.
            merged = np.unique(np.round(positions, 6), axis=0, return_inverse=True)[1].ravel()[faces]
            merged = merged[
                (merged[:, 0] != merged[:, 1]) & (merged[:, 1] != merged[:, 2]) & (merged[:, 2] != merged[:, 0])
            ]
            sides = np.sort(merged[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
            count = np.unique(sides, axis=0, return_counts=True)[1]
            outer = len(np.unique(np.round(outer_points(edge, 500)[-1], 6), axis=0))
            self.assertLessEqual(count.max(), 2)
            self.assertEqual(int((count == 1).sum()), len(edge) - 1 + outer)

    def test_it_faces_up(self) -> None:
        positions, faces, _ = skirt(edge_of((20, 12), 0.5, lambda x, z: 0.2 * np.sin(x)), 800)
        a, b, c = (positions[faces[:, k]] for k in range(3))
        up = np.cross(b - a, c - a)
        large = np.linalg.norm(up, axis=1) > 1e-9
        self.assertGreater((up[large, 1] / np.linalg.norm(up[large], axis=1)).min(), 0.3)

    def test_a_ditch_at_the_edge_is_carried_on_and_then_fills(self) -> None:
        edge = edge_of((40, 40), 0.5, lambda x, z: np.where(np.abs(x) < 2, -3.0, 0.0))
        positions, _, away = skirt(edge, 1000)
        mean = edge[:-1, 1].mean()
        depth = [mean - positions[np.abs(away - one) < 1e-9][:, 1].min() for one in np.unique(away)]
        self.assertAlmostEqual(depth[0], 3 + mean)
        self.assertTrue(np.all(np.diff(depth) <= 1e-9))
        self.assertLess(depth[-1], 0.05)

    def test_it_goes_as_far_as_asked_on_all_sides(self) -> None:
        positions, _, _ = skirt(edge_of((40, 20), 1.0), 600)
        np.testing.assert_allclose(np.abs(positions[:, [0, 2]]).max(0), [620, 610])
