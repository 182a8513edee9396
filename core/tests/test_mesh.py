"""Meshes as arrays."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import volume, welded_edges

from cenote.geometry.build import block, boulder, box, gable, limb, prism, sphere, steps, tube, turned
from cenote.geometry.ground import ground_mesh, height_field, levelled
from cenote.geometry.mesh import (
    Mesh,
    MeshError,
    checked,
    corner_normals,
    face_normals,
    indexed,
    join,
    placement_matrix,
    welded,
)


class MeshTests(unittest.TestCase):
    def test_areas_and_normals_of_a_box(self) -> None:
        normals, areas = face_normals(box((0, 0, 0), (1, 2, 3)).corners)
        self.assertAlmostEqual(areas.sum(), 2 * (1 * 2 + 2 * 3 + 1 * 3), places=5)
        np.testing.assert_allclose(np.abs(normals).sum(1), 1, atol=1e-6)

    def test_digest_follows_content_alone(self) -> None:
        a, b = box((0, 0, 0), (1, 1, 1)), box((0, 0, 0), (1, 1, 1))
        self.assertEqual(a.digest(), b.digest())
        self.assertNotEqual(a.digest(), a.at(x=0.001).digest())
        self.assertNotEqual(a.digest(), Mesh.of(a.positions, a.faces, "other").digest())

    def test_join_keeps_parts_by_name(self) -> None:
        whole = join([box((0, 0, 0), (1, 1, 1), "a"), box((2, 0, 0), (3, 1, 1), "b"), box((4, 0, 0), (5, 1, 1), "a")])
        self.assertEqual(whole.part_names, ("a", "b"))
        self.assertEqual(np.bincount(whole.parts).tolist(), [24, 12])
        self.assertEqual(len(whole.corners), 36)

    def test_a_mirrored_solid_still_faces_outwards(self) -> None:
        solid = box((0, 0, 0), (1, 2, 3))
        self.assertAlmostEqual(volume(solid.corners), 6, places=5)
        self.assertAlmostEqual(volume(solid.moved(np.diag([-1.0, 1, 1, 1])).corners), 6, places=5)

    def test_placing_turns_towards_the_right_and_scales(self) -> None:
        moved = Mesh.of([[0, 0, -1], [1, 0, 0], [0, 1, 0]], [[0, 1, 2]]).moved(placement_matrix((5, 6, 7), 90, 2))
        np.testing.assert_allclose(moved.positions, [[3, 6, 7], [5, 6, 5], [5, 8, 7]], atol=1e-6)

    def test_smooth_where_round_and_sharp_where_cornered(self) -> None:
        cube = corner_normals(box((0, 0, 0), (1, 1, 1)))
        np.testing.assert_allclose(np.abs(cube).max(2), 1, atol=1e-6)
        ball = sphere(24, 32)
        away = ball.corners / np.linalg.norm(ball.corners, axis=2)[..., None]
        self.assertGreater((corner_normals(ball) * away).sum(2).min(), 0.98)

    def test_bark_is_as_fine_on_limbs_of_few_sides(self) -> None:
        path = np.column_stack([np.zeros(5), np.linspace(0, 4, 5), np.zeros(5)])
        for sides in (3, 5, 12):
            made = limb(path, np.full(5, 0.2), sides)
            assert made.uv is not None
            one, two = (made.uv[made.faces][:, k] - made.uv[made.faces][:, 0] for k in (1, 2))
            drawn = np.abs(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0]).sum() / 2
            self.assertAlmostEqual(drawn / face_normals(made.corners)[1].sum(), 1, places=5)

    def test_a_tall_cylinder_of_few_sides_is_shaded_round(self) -> None:
        pole = turned([(0.1, 0.0), (0.1, 3.0)], 10, "a")
        normals, away = corner_normals(pole), pole.corners * [1, 0, 1]
        length = np.linalg.norm(away, axis=2)
        sides = np.abs(face_normals(pole.corners)[0][:, 1]) < 0.1
        radial = (normals[sides] * away[sides] / length[sides][..., None]).sum(2)
        self.assertGreater(radial.min(), np.cos(np.radians(0.5)))

    def test_bad_meshes_are_refused_in_words(self) -> None:
        good = box((0, 0, 0), (1, 1, 1))
        nan = good.positions.copy()
        nan[3, 1] = np.nan
        for mesh, words in (
            (Mesh.of(good.positions, np.zeros((0, 3))), "no triangles"),
            (Mesh.of(nan, good.faces), "not finite"),
            (Mesh.of(good.positions, good.faces + 1), "not there"),
            (Mesh.of(good.positions * [1, 0, 0], good.faces), "zero area"),
        ):
            with self.assertRaisesRegex(MeshError, words):
                checked(mesh)
        flat = np.concatenate([good.faces, [[0, 0, 1]]])
        self.assertEqual(len(checked(Mesh.of(good.positions, flat)).faces), 12)

    def test_welding_and_indexing(self) -> None:
        corners = box((0, 0, 0), (1, 1, 1)).corners.reshape(-1, 3)
        self.assertEqual(len(np.unique(welded(corners))), 8)
        columns, index = indexed({"position": corners, "uv": corners[:, :2]})
        self.assertEqual(len(columns["position"]), 8)
        np.testing.assert_array_equal(columns["position"][index], corners)


class SolidTests(unittest.TestCase):
    def test_solids_are_closed_and_face_outwards(self) -> None:
        bent = np.array([[0, 0, 0], [0, 1, 0], [0.5, 1.6, 0.2]])
        for name, solid, expected in (
            ("box", box((0, 0, 0), (1, 1, 2)), 2.0),
            ("block", block((0, 0, 0), (1, 2, 1), turn=30), 2.0),
            ("prism", prism([(0, 0), (2, 0), (0, 2)], 3), 6.0),
            ("gable", gable(2, 1, 4), 4.0),
            ("cylinder", turned([(1, 0), (1, 2)], 64), 2 * np.pi),
            ("sphere", sphere(40, 60), 4 / 3 * np.pi),
            ("tube", tube(bent, [0.1, 0.1, 0.1]), None),
            ("boulder", boulder(3, (1, 1, 1)), None),
        ):
            with self.subTest(name):
                self.assertEqual(
                    set(welded_edges(Mesh.of(solid.positions, welded(solid.positions)[solid.faces])).values()) - {2},
                    set(),
                )
                found = volume(solid.corners)
                self.assertGreater(found, 0)
                if expected is not None:
                    self.assertAlmostEqual(found / expected, 1, delta=0.02)

    def test_steps_climb(self) -> None:
        flight = steps(3, 1, 0.2, 0.3)
        np.testing.assert_allclose(flight.bounds, [[-0.5, 0, -0.9], [0.5, 0.6, 0]], atol=1e-6)

    def test_boulders_differ_by_seed_only(self) -> None:
        self.assertEqual(boulder(1, (1, 1, 1)).digest(), boulder(1, (1, 1, 1)).digest())
        self.assertNotEqual(boulder(1, (1, 1, 1)).digest(), boulder(2, (1, 1, 1)).digest())


class GroundTests(unittest.TestCase):
    def test_ground_faces_up_and_fills_its_extent(self) -> None:
        x, z = height_field((10, 6), 0.5)
        mesh = ground_mesh(x, z, np.sin(x), "soil")
        normals, areas = face_normals(mesh.corners)
        self.assertTrue((normals[:, 1] > 0).all())
        self.assertAlmostEqual((areas * normals[:, 1]).sum(), 60, places=3)

    def test_levelled_is_level_inside_untouched_outside_and_monotone_between(self) -> None:
        x, z = height_field((20, 20), 0.25)
        heights = levelled(x, z, np.full(x.shape, 3.0), (0, 0), (4, 6), 1.0, 2.0)
        inside = (np.abs(x) <= 2) & (np.abs(z) <= 3)
        np.testing.assert_allclose(heights[inside], 1)
        np.testing.assert_allclose(heights[(np.abs(x) > 4) | (np.abs(z) > 5)], 3)
        middle = heights[len(x) // 2, x.shape[1] // 2 :]
        self.assertTrue((np.diff(middle) >= 0).all())
