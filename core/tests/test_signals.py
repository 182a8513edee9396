"""Each signal against a shape whose answer is known in closed form."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import UP, looked_at, samples, scene, square

from cenote.geometry.build import box
from cenote.geometry.mesh import placement_matrix
from cenote.signals.base import SIGNALS
from cenote.signals.crevice import Crevice
from cenote.signals.distance import Distance
from cenote.signals.facing import Facing
from cenote.signals.height import Height
from cenote.signals.noise import Noise
from cenote.signals.scene import MeasuredScene, SceneObject
from cenote.signals.sky import SkyExposure
from cenote.signals.slope import Slope

NOTHING = MeasuredScene({})


def tilted(degrees: float) -> np.ndarray:
    """The normal of a plane inclined by degrees, that faces east."""
    angle = np.radians(degrees)
    return np.array([np.sin(angle), np.cos(angle), 0], np.float32)


class SlopeTests(unittest.TestCase):
    def test_inclined_planes(self) -> None:
        for degrees in (0, 15, 45, 90, 135, 180):
            found = Slope().measure(samples([0, 0, 0], tilted(degrees)), NOTHING)[0]
            self.assertAlmostEqual(found, degrees, delta=0.05)


class FacingTests(unittest.TestCase):
    def test_up_is_the_cosine_of_the_slope(self) -> None:
        for degrees in (0, 30, 90, 150):
            found = Facing().measure(samples([0, 0, 0], tilted(degrees)), NOTHING)[0]
            self.assertAlmostEqual(found, np.cos(np.radians(degrees)), places=5)

    def test_bearings_are_of_the_compass(self) -> None:
        for bearing, normal in ((0, [0, 0, -1]), (90, [1, 0, 0]), (180, [0, 0, 1]), (270, [-1, 0, 0])):
            found = Facing(height=0, bearing=bearing).measure(samples([0, 0, 0], normal), NOTHING)[0]
            self.assertAlmostEqual(found, 1, places=5)


class HeightTests(unittest.TestCase):
    def test_above_zero_and_above_water(self) -> None:
        at = samples([[0, 2.5, 0], [0, -1, 0]])
        wet = MeasuredScene({}, water_level=-1.5)
        np.testing.assert_allclose(Height().measure(at, wet), [2.5, -1])
        np.testing.assert_allclose(Height(above_water=True).measure(at, wet), [4, 0.5])
        np.testing.assert_allclose(Height(above_water=True).measure(at, NOTHING), [2.5, -1])

    def test_only_one_that_looks_at_the_water_depends_on_it(self) -> None:
        self.assertEqual(looked_at(Height(), MeasuredScene({}, 3)), set())
        self.assertEqual(looked_at(Height(above_water=True), MeasuredScene({}, 3)), {"water"})


class CreviceTests(unittest.TestCase):
    def test_open_ground_is_open(self) -> None:
        self.assertEqual(Crevice().measure(samples([0, 0, 0]), scene(ground=square(20)))[0], 0)

    def test_foot_of_a_wall_is_half_closed(self) -> None:
        wall = box((0, -1, -50), (1, 50, 50)).corners
        found = Crevice(radius=10).measure(samples([[-0.02, 0, 0]]), scene(wall=wall))[0]
        self.assertAlmostEqual(found, 0.5, delta=0.04)

    def test_corner_of_a_room_is_three_quarters_closed(self) -> None:
        walls = np.concatenate([box((0, -1, -50), (1, 50, 50)).corners, box((-50, -1, 0), (50, 50, 1)).corners])
        found = Crevice(radius=10).measure(samples([[-0.02, 0, -0.02]]), scene(walls=walls))[0]
        self.assertAlmostEqual(found, 0.75, delta=0.05)

    def test_v_groove_by_its_angle(self) -> None:
        # In the bottom of a V of half angle a, a point on one side with normal n sees the other side over the
        # directions between that side and the first: occlusion (1 + cos 2a) / 2 for long sides.
        half = np.radians(30)
        side = 40.0
        left = np.array([[0, 0, -side], [-side * np.sin(half), side * np.cos(half), -side], [0, 0, side],
                         [-side * np.sin(half), side * np.cos(half), side]])  # fmt: skip
        right = left * [-1, 1, 1]
        faces = [[0, 1, 2], [1, 3, 2]]
        corners = np.concatenate([left[faces], right[faces]]).astype(np.float32)
        normal = np.array([np.cos(half), np.sin(half), 0], np.float32)
        place = 0.05 * np.array([-np.sin(half), np.cos(half), 0])
        found = Crevice(radius=10).measure(samples([place], normal), scene(groove=corners))[0]
        self.assertAlmostEqual(found, (1 + np.cos(2 * half)) / 2, delta=0.05)

    def test_what_lies_beyond_the_radius_does_not_count(self) -> None:
        ceiling = square(50, height=2)[:, ::-1]
        self.assertAlmostEqual(Crevice(radius=1.9).measure(samples([0, 0, 0]), scene(roof=ceiling))[0], 0, places=5)
        self.assertGreater(Crevice(radius=10).measure(samples([0, 0, 0]), scene(roof=ceiling))[0], 0.9)

    def test_inside_a_sealed_box_all_is_closed(self) -> None:
        room = box((-1, -1, -1), (1, 1, 1)).corners[:, ::-1]
        floor = samples([[0, -0.99, 0], [0.5, -0.99, 0.3]])
        np.testing.assert_allclose(Crevice(radius=10).measure(floor, scene(room=room)), 1, atol=1e-6)
        np.testing.assert_allclose(SkyExposure().measure(floor, scene(room=room)), 0, atol=1e-6)


def wall_opposite(height: float, away: float) -> np.ndarray:
    """An endless wall that faces −X."""
    ends = np.array([[away, 0, -900], [away, height, -900], [away, height, 900], [away, 0, 900]], np.float32)
    return ends[[[0, 1, 2], [0, 2, 3]]]


class SkyTests(unittest.TestCase):
    def test_open_plane_by_its_slope(self) -> None:
        # An open plane inclined by s sees (1 + cos s) / 2 of an even sky, weighed by the cosine.
        for degrees in (0, 30, 60, 90, 120):
            found = SkyExposure().measure(samples([[0, 5, 0]], tilted(degrees)), scene(ground=square(1000)))[0]
            self.assertAlmostEqual(found, (1 + np.cos(np.radians(degrees))) / 2, delta=1e-5)

    def test_a_free_wall_is_the_same_whichever_way_it_faces(self) -> None:
        around = np.radians(np.arange(0, 360, 7))
        normals = np.column_stack([np.cos(around), np.zeros(len(around)), np.sin(around)]).astype(np.float32)
        at = np.full((len(around), 3), [0.0, 5, 0])
        np.testing.assert_allclose(
            SkyExposure().measure(samples(at, normals), scene(ground=square(1000))), 0.5, atol=1e-5
        )

    def test_an_endless_wall_opposite_hides_its_view_factor_and_draws_no_steps(self) -> None:
        # A wall sees (1 - sin e) / 2 of the sky over an endless rim at an elevation of e (Howell, view factor B-5).
        rim = wall_opposite(height=3, away=4)
        heights = np.linspace(0.1, 2, 600)
        at = np.column_stack([np.zeros(600), heights, np.random.default_rng(3).uniform(-1, 1, 600)])
        facing = np.tile(np.array([[1, 0, 0]], np.float32), (600, 1))
        found = SkyExposure().measure(samples(at, facing), scene(rim=rim))
        error = found - (1 - np.sin(np.arctan2(3 - heights, 4))) / 2
        self.assertLess(np.abs(error).mean(), 0.01)
        # The mean of fifty neighbours: a hard line would stand out of it.
        self.assertLess(np.abs(np.convolve(error, np.ones(50) / 50, "valid")).max(), 0.006)

    def test_under_a_roof_it_falls_with_the_angle_that_the_roof_takes(self) -> None:
        # A square roof of half side h at height z hides the view factor of a parallel square from below.
        h, z = 1.0, 1.0
        a = h / z
        hidden = 4 / np.pi * (a / np.sqrt(1 + a * a)) * np.arctan(a / np.sqrt(1 + a * a))
        roof = square(2 * h, height=z)[:, ::-1]
        found = SkyExposure().measure(samples([[0, 0, 0]]), scene(roof=roof))[0]
        self.assertAlmostEqual(found, 1 - hidden, delta=0.05)


class DistanceTests(unittest.TestCase):
    def test_to_chosen_objects_and_to_all_but_the_ground(self) -> None:
        around = scene(
            ground=square(50),
            near=box((1, 0, -1), (2, 1, 1)).corners,
            far=box((-5, 0, -1), (-4, 1, 1)).corners,
        )
        at = samples([[0, 0.5, 0]])
        self.assertAlmostEqual(Distance().measure(at, around)[0], 1, places=5)
        self.assertAlmostEqual(Distance(objects=("far",)).measure(at, around)[0], 4, places=5)
        self.assertAlmostEqual(Distance(objects=("far",), reach=3).measure(at, around)[0], 3, places=5)
        self.assertAlmostEqual(Distance(objects=("ground",)).measure(at, around)[0], 0.5, places=5)
        self.assertAlmostEqual(Distance(objects=("gone",)).measure(at, around)[0], 10, places=5)

    def test_it_depends_on_the_chosen_objects_only(self) -> None:
        one = MeasuredScene({"a": SceneObject(square(1), "1"), "b": SceneObject(square(1), "2")})
        self.assertEqual(looked_at(Distance(objects=("a",)), one), {"a"})
        self.assertEqual(looked_at(Distance(), one), {"a", "b"})


class NearnessTests(unittest.TestCase):
    def test_what_stands_beyond_the_reach_does_not_matter(self) -> None:
        def around(far: str, near: str) -> MeasuredScene:
            at = box((-1, 0, -1), (1, 1, 1)).corners
            shift = np.array([1, 0, 0], np.float32)
            return MeasuredScene({
                "here": SceneObject(at, "here"),
                "near": SceneObject(at + 2.3 * shift, near),
                "far": SceneObject(at + 9 * shift, far),
            })  # fmt: skip

        self.assertEqual(around("1", "1").near("here", 0.5), ("here", "near"))
        self.assertEqual(around("1", "1").near("here", 8), ("here", "near", "far"))
        for signal in (Crevice(radius=0.5), Distance(reach=0.5)):
            with self.subTest(signal.kind):
                self.assertEqual(looked_at(signal, around("1", "1"), "here"), {"here", "near"})
                self.assertEqual(looked_at(signal, around("1", "1")), {"here", "near", "far"})
        # The sky may be hidden by what is far if it is tall, not by what stands below its lowest ray.
        low = MeasuredScene({
            "here": SceneObject(box((-1, 0, -1), (1, 1, 1)).corners, "here"),
            "far": SceneObject(box((14, 0, -1), (16, 1, 1)).corners, "far"),
        })  # fmt: skip
        self.assertEqual(looked_at(SkyExposure(), low, "here"), {"here"})
        tall = MeasuredScene({
            "here": SceneObject(box((-1, 0, -1), (1, 1, 1)).corners, "here"),
            "far": SceneObject(box((59, 0, -30), (60, 20, 30)).corners, "far"),
        })  # fmt: skip
        self.assertEqual(looked_at(SkyExposure(), tall, "here"), {"here", "far"})

    def test_values_agree_with_what_is_said_to_matter(self) -> None:
        at = box((-1, 0, -1), (1, 1, 1)).corners
        points = samples([[1.0, 0.5, 0], [0, 1, 0]], np.array([[1, 0, 0], [0, 1, 0]], np.float32))
        for away, same in ((1.6, True), (0.3, False)):
            wall = SceneObject(at + np.array([2 + away, 0, 0], np.float32), "wall")
            alone, both = (MeasuredScene({"here": SceneObject(at, "a")} | more) for more in ({}, {"wall": wall}))
            for signal in (Crevice(radius=1.5), Distance(objects=("wall",), reach=1.5)):
                first, second = signal.measure(points, alone), signal.measure(points, both)
                self.assertEqual(bool(np.allclose(first, second)), same, signal.kind)


class AllSignalsTests(unittest.TestCase):
    def test_every_signal_gives_finite_numbers_and_does_not_care_for_order(self) -> None:
        hut = box((-1, 0, -1), (1, 2, 1)).moved(placement_matrix((2, 0, 1), 30)).corners
        around = scene(ground=square(20), hut=hut)
        dice = np.random.default_rng(6)
        normals = dice.normal(size=(3000, 3))
        normals /= np.linalg.norm(normals, axis=1)[:, None]
        at = samples(dice.uniform(-4, 4, (3000, 3)), normals)
        order = dice.permutation(3000)
        for signal in SIGNALS:
            with self.subTest(signal.__name__):
                found = signal().measure(at, around)
                self.assertEqual(found.shape, (3000,))
                self.assertTrue(np.isfinite(found).all())
                again = signal().measure(samples(at.positions[order], at.normals[order]), around)
                np.testing.assert_allclose(again, found[order], atol=1e-6)
                self.assertLess(signal.reading.low, signal.reading.high)
                self.assertNotEqual(*signal.suggested)

    def test_every_signal_tells_something_where_there_is_nothing(self) -> None:
        for around in (scene(), scene(nothing=np.zeros((0, 3, 3), np.float32))):
            for places in (np.zeros((0, 3)), [[0, 0, 0], [1, 2, 3]]):
                for signal in SIGNALS:
                    with self.subTest(signal.__name__):
                        found = signal().measure(samples(places), around)
                        self.assertEqual(len(found), len(places))
                        self.assertTrue(np.isfinite(found).all())

    def test_noise_is_half_on_average_and_keeps_to_its_size(self) -> None:
        at = samples(np.random.default_rng(0).uniform(-100, 100, (50_000, 3)))
        found = Noise(size=2).measure(at, NOTHING)
        self.assertAlmostEqual(found.mean(), 0.5, delta=0.01)
        moved = samples(at.positions + np.float32(0.002) * UP)
        self.assertLess(
            np.abs(
                Noise(size=2, octaves=1).measure(moved, NOTHING) - Noise(size=2, octaves=1).measure(at, NOTHING)
            ).max(),
            0.01,
        )
