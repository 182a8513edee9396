"""Dropping: convex bodies of meshes, heaps at rest, and what cannot fall."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.spatial import ConvexHull
from shapes import graph_of, shape_in

from cenote.derive.dropping import Dropped, drop_here, falling
from cenote.derive.graph import Cancelled
from cenote.drop.colliders import enclosed_volume, ground_colliders, hull, item_colliders, prisms, scenery_colliders
from cenote.drop.heap import Drop, DropShare, Heap, HeapPiece
from cenote.drop.settle import DropRefused
from cenote.geometry.build import box, turned
from cenote.geometry.mesh import join, pieces, placement_angles, placement_matrix
from cenote.kit.shelf import SHIPPED
from cenote.site.document import Made, Placement, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall


def _flat_site(**more: object) -> SiteDocument:
    return SiteDocument(ground=Ground(size=(14, 14), relief=0), **more)  # type: ignore[arg-type]


class CollidersTests(unittest.TestCase):
    def test_a_turned_box_is_known_for_a_box(self) -> None:
        made = box((-1, 0, -0.1), (1, 0.05, 0.1)).moved(
            placement_matrix((3, 2, 1), 30, tip_degrees=20, roll_degrees=50)
        )
        found = hull(made.positions)
        assert found.box is not None
        centre, half, axes = found.box
        np.testing.assert_allclose(sorted(half), [0.025, 0.1, 1], atol=1e-5)
        np.testing.assert_allclose(axes.T @ axes, np.eye(3), atol=1e-9)
        self.assertAlmostEqual(np.linalg.det(axes), 1)
        np.testing.assert_allclose(centre, made.bounds.mean(0), atol=1e-5)

    def test_what_has_no_thickness_gets_some(self) -> None:
        flat = hull(np.array([[0, 0, 0], [1, 0, 0], [1, 0, 1], [0, 0, 1]]))
        self.assertGreater(flat.volume, 0.003)
        self.assertGreater(hull(np.zeros((1, 3))).volume, 0)

    def test_a_crate_is_full_and_a_bench_is_of_its_boards(self) -> None:
        self.assertEqual(len(item_colliders(SHIPPED.mesh("crate", 0))), 1)
        self.assertGreater(len(item_colliders(SHIPPED.mesh("bench", 0))), 5)

    def test_volume_inside_triangles(self) -> None:
        self.assertAlmostEqual(enclosed_volume(box((0, 0, 0), (2, 3, 4)).corners), 24, places=4)

    def test_scenery_is_whole_where_convex_and_prisms_where_not(self) -> None:
        far = np.full(3, 50.0)
        solid = box((0, 0, 0), (1, 1, 1))
        self.assertEqual(len(scenery_colliders(solid.corners, pieces(solid), -far, far)), 1)
        bowl = turned([(0.5, 0), (0.6, 0.4), (0.55, 0.4), (0.45, 0.05)], 12)
        found = scenery_colliders(bowl.corners, pieces(bowl), -far, far)
        self.assertEqual(len(found), len(bowl.faces))
        self.assertEqual(scenery_colliders(solid.corners, pieces(solid), far, far + 1), [])

    def test_prisms_are_no_thicker_than_what_they_stand_for(self) -> None:
        # Two crossing boards in one piece are not convex; their prisms stay inside the boards.
        mesh = join([box((-1, 0, -0.1), (1, 0.03, 0.1)), box((0.999, 0, -0.1), (1.05, 1, 0.1))])
        found = scenery_colliders(mesh.corners, np.zeros(len(mesh.faces), np.int32), np.full(3, -9.0), np.full(3, 9.0))
        low = min(one.points[:, 1].min() for one in found)
        self.assertGreater(low, -0.01)
        single = prisms(np.array([[[0, 0, 0], [0, 0, 1], [1, 0, 0]]], np.float32), np.array([0.05]))[0]
        self.assertAlmostEqual(single.points[:, 1].min(), -0.05, places=6)

    def test_ground_is_thick(self) -> None:
        flat = np.array([[[0, 0, 0], [0, 0, 1], [1, 0, 0]]], np.float32)
        found = ground_colliders(flat, np.full(3, -9.0), np.full(3, 9.0))
        self.assertLess(found[0].points[:, 1].min(), -0.5)


class AnglesTests(unittest.TestCase):
    def test_any_rotation_is_told_in_three_angles(self) -> None:
        for angles in ((30, 20, 10), (-170, -80, 179), (5, 90, 0), (0, -90, 0), (123, 0, -45)):
            rotation = placement_matrix((0, 0, 0), angles[0], 1, angles[1], angles[2])[:3, :3]
            turn, tip, roll = placement_angles(rotation)
            again = placement_matrix((0, 0, 0), turn, 1, tip, roll)[:3, :3]
            np.testing.assert_allclose(again, rotation, atol=1e-7)


def _spread(points: np.ndarray, simplices: np.ndarray) -> np.ndarray:
    """Points all over the faces of a hull, not only its corners."""
    a, b, c = (points[simplices[:, k]] for k in range(3))
    weights = [(i / 6, j / 6) for i in range(7) for j in range(7 - i)]
    return np.concatenate([a + (b - a) * u + (c - a) * v for u, v in weights])


def deepest_overlap(made: Dropped) -> float:
    """How deep any piece is inside another, metres, by the true meshes' convex outlines; not by the simulation's own word.

    Every face of a piece is sampled; a sample's depth in another piece is its distance to the nearest of its planes.
    """
    hulls = []
    for piece in made.pieces:
        points = SHIPPED.mesh(piece.item, piece.variant).moved(piece.matrix()).positions.astype(float)
        found = ConvexHull(points)
        hulls.append((found.equations, _spread(points, found.simplices), points.min(0), points.max(0)))
    deepest = 0.0
    for i, (planes, _, low, high) in enumerate(hulls):
        for j, (_, samples, other_low, other_high) in enumerate(hulls):
            if i == j or (other_low > high).any() or (other_high < low).any():
                continue
            depth = -(samples @ planes[:, :3].T + planes[:, 3]).max(1)
            deepest = max(deepest, float(depth.max()))
    return deepest


class HeapTests(unittest.TestCase):
    def test_planks_and_crates_come_to_rest_outside_each_other(self) -> None:
        drop = Drop(mix=(DropShare(item="plank", number=60), DropShare(item="crate", number=20)), radius=1.8)
        seen: list[int] = []
        made = drop_here(graph_of(_flat_site()), drop, Placement(), None, lambda rows, *_: seen.append(len(rows)))
        self.assertEqual((len(made.pieces), made.lost), (80, 0))
        self.assertEqual(seen, sorted(seen))
        self.assertEqual(seen[-1], 80)
        self.assertLess(made.overlap, 0.005)
        self.assertLess(deepest_overlap(made), 0.005)
        # Nothing is in the ground, nothing hangs in the air, and they do lie on each other.
        bounds = [SHIPPED.mesh(p.item, p.variant).moved(p.matrix()).bounds for p in made.pieces]
        self.assertGreater(min(b[0, 1] for b in bounds), -0.005)
        self.assertLess(min(b[0, 1] for b in bounds), 0.02)
        self.assertGreater(max(b[1, 1] for b in bounds), 0.6)

    def test_the_same_drop_makes_the_same_heap_and_another_seed_another(self) -> None:
        drop = Drop(mix=(DropShare(item="stone", number=5),), radius=0.5)
        first, again = (drop_here(graph_of(_flat_site()), drop, Placement(), None, lambda *_: None) for _ in range(2))
        self.assertEqual(first.pieces, again.pieces)
        other = drop.model_copy(update={"seed": 2})
        self.assertNotEqual(
            drop_here(graph_of(_flat_site()), other, Placement(), None, lambda *_: None).pieces, first.pieces
        )

    def test_poses_are_kept_in_the_frame_of_the_place(self) -> None:
        drop = Drop(mix=(DropShare(item="plank", number=1),), radius=0.1, tumble=0)
        place = Placement(position=(2, 0, -3), turn=70)
        made = drop_here(graph_of(_flat_site()), drop, place, None, lambda *_: None)
        heap = Structure(id="h", source=Heap(drop=drop, pieces=tuple(made.pieces)), placement=place)
        surface = shape_in(_flat_site(structures=(heap,)), "h")
        low, high = surface.corners.reshape(-1, 3).min(0), surface.corners.reshape(-1, 3).max(0)
        middle = (low + high) / 2
        self.assertLess(np.hypot(middle[0] - 2, middle[2] + 3), 0.4)
        self.assertAlmostEqual(float(low[1]), 0, delta=0.01)

    def test_a_heap_of_another_size_falls_in_that_size(self) -> None:
        drop = Drop(mix=(DropShare(item="slab_stone", number=2),), radius=0.1, tumble=0)
        place = Placement(position=(1, 0, 1), size=2.5)
        made = drop_here(graph_of(_flat_site()), drop, place, None, lambda *_: None)
        heap = Structure(id="h", source=Heap(drop=drop, pieces=tuple(made.pieces)), placement=place)
        surface = shape_in(_flat_site(structures=(heap,)), "h")
        self.assertAlmostEqual(float(surface.corners[..., 1].min()), 0, delta=0.01)
        single = 2.5 * SHIPPED.mesh("slab_stone", 0).bounds[1, 1]
        self.assertGreater(float(surface.corners[..., 1].max()), 1.3 * single)

    def test_things_fall_onto_objects_and_not_onto_what_they_replace(self) -> None:
        wall = Structure(id="wall", source=Made(maker=Wall(length=4, height=1, piers=0, ruin=0, thickness=1.5)))
        drop = Drop(mix=(DropShare(item="slab_stone", number=1),), radius=0.1, tumble=0, height=1.5)
        site = _flat_site(structures=(wall,))
        on_wall = drop_here(graph_of(site), drop, Placement(), None, lambda *_: None)
        self.assertGreater(on_wall.pieces[0].position[1], 0.9)
        without = drop_here(graph_of(site), drop, Placement(), "wall", lambda *_: None)
        self.assertLess(without.pieces[0].position[1], 0.3)

    def test_all_variants_fall_in_turn(self) -> None:
        rows = falling(graph_of(_flat_site()), Drop(mix=(DropShare(item="plank", number=6),)))
        self.assertEqual([variant for _, variant in rows], [0, 1, 2, 3, 0, 1])

    def test_it_stops_when_it_is_told_to(self) -> None:
        def stop(*_: object) -> None:
            raise Cancelled

        with self.assertRaises(Cancelled):
            drop_here(graph_of(_flat_site()), Drop(), Placement(), None, stop)

    def test_what_falls_beside_the_site_is_said(self) -> None:
        drop = Drop(mix=(DropShare(item="stone", number=2),), radius=0.2)
        with self.assertRaisesRegex(DropRefused, "fell off the site"):
            drop_here(graph_of(_flat_site()), drop, Placement(position=(40, 0, 0)), None, lambda *_: None)

    def test_what_is_not_solid_does_not_fall(self) -> None:
        for item in ("fern", "dead_leaves"):
            drop = Drop(mix=(DropShare(item=item, number=1),))
            with self.subTest(item), self.assertRaisesRegex(DropRefused, "not solid"):
                drop_here(graph_of(_flat_site()), drop, Placement(), None, lambda *_: None)

    def test_too_many_are_refused_by_the_field(self) -> None:
        with self.assertRaisesRegex(ValueError, "mix: 400 things fall"):
            Drop(mix=(DropShare(number=200), DropShare(item="crate", number=200)))

    def test_unknown_items_are_named_by_their_field(self) -> None:
        heap = Heap(pieces=(HeapPiece(item="plank"), HeapPiece(item="kettle")))
        with self.assertRaisesRegex(ValueError, "structures/0/source/pieces/1/item"):
            _flat_site(structures=(Structure(id="h", source=heap),))
