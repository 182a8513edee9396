"""Rays against triangles and distances to them, on shapes whose answers are known."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import square

from cenote.geometry.build import box, sphere
from cenote.geometry.closest import NearestTriangles
from cenote.geometry.mesh import placement_matrix
from cenote.geometry.rays import RayScene, hemisphere, open_share
from cenote.parallel import over_rows

DOWN = np.array([[0, -1, 0]], np.float32)


def farthest_apart(corners: np.ndarray, points: np.ndarray, steps: int = 400) -> np.ndarray:
    """Distances of points to triangles that are as good as lines, float (N,), by trying places along their edges."""
    t = np.linspace(0, 1, steps)[:, None]
    edges = [a + (b - a) * t for a, b in ((corners[0], corners[1]), (corners[1], corners[2]), (corners[2], corners[0]))]
    return np.linalg.norm(points[:, None] - np.concatenate(edges)[None], axis=2).min(1)


class ColumnTests(unittest.TestCase):
    def test_upright_segments_are_as_far_as_the_nearest_of_all_their_places(self) -> None:
        dice = np.random.default_rng(8)
        mesh = sphere(6, 9).moved(placement_matrix((0.3, 0.2, 0), 20)).corners.astype(float)
        flat = np.array([[[-1, 0.5, -1], [1, 0.5, -1], [0, 0.5, 1.5]], [[2, 0, 0], [2, 3, 0], [2, 1, 0.0]]], float)
        sliver = np.array([[[0, 0, -2], [0, 4, -2], [0, 2, -2]]], float)
        for corners in (mesh, flat, np.concatenate([flat, sliver])):
            tree = NearestTriangles(corners)
            at = dice.uniform(-3, 3, (400, 3))
            talls = dice.choice([0.0, 0.02, 0.5, 7.0], 400)
            found = np.full(400, 50.0, np.float32)
            tree.nearer_columns(at, talls, found)
            steps = np.linspace(0, 1, 700)
            places = at[:, None] + steps[None, :, None] * (talls[:, None, None] * np.array([0, 1.0, 0]))
            every = tree.distance(places.reshape(-1, 3), 50).reshape(400, -1)
            np.testing.assert_array_less(found, every.min(1) + 1e-5)
            np.testing.assert_allclose(found, every.min(1), atol=0.006)


class SliverTests(unittest.TestCase):
    def test_triangles_without_area_are_as_far_as_their_edges(self) -> None:
        dice = np.random.default_rng(5)
        for _ in range(300):
            far = dice.choice([0.0, 1.0, 300.0, 40_000.0]) * dice.normal(size=3)
            a, way = far + dice.normal(size=3), dice.normal(size=3)
            corners = {
                0: [a, a, a], 1: [a, a + way, a], 2: [a, a + way, a + 0.3 * way], 3: [a, a + 4e-6 * way, a + 2e-6 * way],
                4: [a, a + way, a + way * (1 + 1e-15)], 5: [a + way, a, a],
            }[int(dice.integers(6))]  # fmt: skip
            # As import keeps them.
            corners = np.array(corners, np.float32).astype(float)
            points = corners[0] + dice.normal(size=(20, 3))
            found = NearestTriangles(corners[None]).distance(points, 1e6)
            np.testing.assert_allclose(found, farthest_apart(corners, points), atol=4e-3 + 1e-6 * np.abs(far).max())

    def test_slivers_far_from_the_origin_do_not_crash_and_hold_no_more_than_they_are(self) -> None:
        dice = np.random.default_rng(6)
        at = np.array([300.0, 2.0, -40.0]) + dice.uniform(-1, 1, (2000, 1, 3))
        corners = (at + dice.uniform(-4e-6, 4e-6, (2000, 3, 3))).astype(np.float32)
        points = (at[:200, 0] + dice.normal(size=(200, 3))).astype(np.float32)
        found = NearestTriangles(corners).distance(points, 10.0)
        middles = corners.astype(float).mean(1)
        wanted = np.linalg.norm(points[:, None].astype(float) - middles[None], axis=2).min(1)
        np.testing.assert_allclose(found, wanted, atol=1e-4)


class RayTests(unittest.TestCase):
    def test_hits_distances_and_misses(self) -> None:
        rays = RayScene(square(2))
        origins = np.array([[0.3, 5, 0.2], [3, 5, 0], [0, -1, 0]], np.float32)
        directions = np.repeat(DOWN, 3, 0)
        self.assertEqual(rays.first(origins, directions).tolist()[1:], [-1, -1])
        self.assertIn(rays.first(origins, directions)[0], (0, 1))
        np.testing.assert_allclose(rays.distance(origins, directions), [5, np.inf, np.inf], atol=1e-5)
        self.assertEqual(rays.occluded(origins, directions).tolist(), [True, False, False])
        self.assertEqual(rays.occluded(origins, directions, reach=4.9).tolist(), [False, False, False])

    def test_nothing_is_hit_where_nothing_is(self) -> None:
        rays = RayScene(np.zeros((0, 3, 3), np.float32))
        origins = np.zeros((3, 3), np.float32)
        self.assertFalse(rays.occluded(origins, np.repeat(DOWN, 3, 0)).any())
        self.assertTrue(np.isinf(rays.distance(origins, np.repeat(DOWN, 3, 0))).all())

    def test_many_rays_agree_with_few(self) -> None:
        rays = RayScene(sphere(20, 30).corners)
        dice = np.random.default_rng(2)
        origins = (dice.normal(size=(20_000, 3)) * 2).astype(np.float32)
        directions = dice.normal(size=(20_000, 3)).astype(np.float32)
        directions /= np.linalg.norm(directions, axis=1)[:, None]
        whole = rays.occluded(origins, directions)
        parts = [rays.occluded(origins[k : k + 777], directions[k : k + 777]) for k in range(0, 20_000, 777)]
        np.testing.assert_array_equal(whole, np.concatenate(parts))

    def test_hemisphere_follows_the_cosine(self) -> None:
        directions = hemisphere(4000)
        np.testing.assert_allclose(np.linalg.norm(directions, axis=1), 1, atol=1e-6)
        self.assertTrue((directions[:, 2] > 0).all())
        # The mean of the cosine under a cosine distribution is 2/3.
        self.assertAlmostEqual(directions[:, 2].mean(), 2 / 3, places=3)
        np.testing.assert_allclose(directions[:, :2].mean(0), 0, atol=2e-3)

    def test_open_share_below_a_wall_is_half(self) -> None:
        wall = np.array(
            [[[0, -50, -500], [0, 500, -500], [0, 500, 500]], [[0, -50, -500], [0, 500, 500], [0, -50, 500]]],
            np.float32,
        )
        place = np.array([[0.05, 0, 0]], np.float32)
        up = np.array([[0, 1, 0]], np.float32)
        self.assertAlmostEqual(float(open_share(RayScene(wall), place, up, hemisphere(256))[0]), 0.5, delta=0.03)
        self.assertAlmostEqual(
            float(open_share(RayScene(wall), place, up, hemisphere(256), reach=0.01)[0]), 1, places=5
        )


class NearestTests(unittest.TestCase):
    def test_known_distances_to_a_box(self) -> None:
        tree = NearestTriangles(box((0, 0, 0), (1, 1, 1)).corners)
        points = np.array([[0.5, 2, 0.5], [2, 2, 0.5], [2, 2, 2], [0.5, 0.9, 0.5], [0.5, 0.5, -0.25]])
        np.testing.assert_allclose(tree.distance(points, 10), [1, np.sqrt(2), np.sqrt(3), 0.1, 0.25], atol=1e-6)

    def test_agrees_with_trying_every_triangle(self) -> None:
        import trimesh

        ball = sphere(14, 20)
        points = np.random.default_rng(4).normal(size=(500, 3)) * 1.5
        mesh = trimesh.Trimesh(ball.positions, ball.faces, process=False)
        expected = trimesh.proximity.closest_point_naive(mesh, points)[1]
        np.testing.assert_allclose(NearestTriangles(ball.corners).distance(points, 100), expected, atol=1e-5)

    def test_reach_caps_and_no_triangles_are_far(self) -> None:
        point = np.array([[0, 50.0, 0]])
        self.assertEqual(NearestTriangles(square(1)).distance(point, 7)[0], 7)
        self.assertEqual(NearestTriangles(np.zeros((0, 3, 3))).distance(point, 7)[0], 7)


class ParallelTests(unittest.TestCase):
    def test_rows_are_covered_once(self) -> None:
        for rows in (0, 1, 5, 1000):
            seen = np.zeros(rows, int)

            def visit(a: int, b: int, seen: np.ndarray = seen) -> None:
                seen[a:b] += 1

            over_rows(visit, rows, least=3)
            self.assertTrue((seen == 1).all())

    def test_what_goes_wrong_is_told(self) -> None:
        def fail(a: int, b: int) -> None:
            raise ValueError("no")

        with self.assertRaises(ValueError):
            over_rows(fail, 100)
