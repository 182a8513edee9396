"""Weathering with known answers: snow by the angle of a roof, streaks below their source, puddles as a basin fills, sealed boxes."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from shapes import samples, scene, square

from cenote.geometry.build import box
from cenote.geometry.mesh import face_normals, join
from cenote.masks.where import Where, chain
from cenote.signals.runoff import Runoff
from cenote.signals.scene import MeasuredScene
from cenote.signals.standing import StandingWater
from cenote.weather.base import COVERS, reached
from cenote.weather.climate import Conditions
from cenote.weather.puddles import Puddles
from cenote.weather.rust_streaks import RustStreaks
from cenote.weather.snow import Snow
from cenote.weather.wet_edge import WetEdge
from cenote.weather.wetness import Wetness


def mask(where: Where, positions, normals, around: MeasuredScene, without: tuple[str, ...] = ()) -> np.ndarray:
    """A mask at points, float32 (N,), without some of its cards."""
    cards = tuple(card for card in where.active if card.id not in without)
    points = samples(np.asarray(positions, float), np.broadcast_to(np.asarray(normals, float), np.shape(positions)))
    return chain(cards, [card.signal.measure(points, around) for card in cards])


def roof(angle: float) -> tuple[np.ndarray, np.ndarray]:
    """Points on a plane that rises by some degrees, far from any edge, and its normal."""
    tilt = np.radians(angle)
    along = np.array([np.cos(tilt), np.sin(tilt), 0.0])
    points = np.array([along * 0.1 * k + [0, 2, 0.1 * j] for k in range(-2, 3) for j in range(-2, 3)])
    return points, np.array([-np.sin(tilt), np.cos(tilt), 0.0])


def tilted(angle: float) -> np.ndarray:
    """That plane's triangles, 4 m square, float64 (2, 3, 3)."""
    tilt = np.radians(angle)
    along, across = np.array([np.cos(tilt), np.sin(tilt), 0]) * 2, np.array([0, 0, 2.0])
    a, b, c, d = (np.array([0, 2.0, 0]) + i * along + j * across for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1)))
    return np.array([[a, d, c], [a, c, b]])


class SnowTests(unittest.TestCase):
    def test_it_lies_by_the_angle_of_the_roof(self) -> None:
        lies = {}
        for angle in (0, 25, 35, 45, 60, 80):
            points, normal = roof(angle)
            around = scene(roof=tilted(angle), ground=square(20))
            lies[angle] = float(mask(Snow.usual_where(), points, normal, around, ("noise",)).mean())
        self.assertGreater(min(lies[0], lies[25], lies[35]), 0.95)
        self.assertTrue(0.1 < lies[45] < 0.9, lies)
        self.assertEqual(max(lies[60], lies[80]), 0)

    def test_it_stays_off_what_a_roof_shelters(self) -> None:
        around = scene(roof=box((-4, 2.5, -4), (4, 2.7, 4)).corners, ground=square(20))
        up = [0, 1, 0]
        near = np.array([[0.03 * k, 0, 0.02 * k] for k in range(9)])
        under, open_ = (
            mask(Snow.usual_where(), near + np.array([x, 0, 0]), up, around, ("noise",)).mean() for x in (0, 8)
        )
        self.assertLess(under, 0.15)
        self.assertGreater(open_, 0.95)

    def test_its_depth_is_its_dial_up_to_what_maps_can_hold(self) -> None:
        thick = [Snow().look(Conditions(snow=snow)).thickness for snow in (0, 0.05, 0.1, 0.5, 1)]
        self.assertEqual(thick[0], 0)
        self.assertTrue((np.diff(thick) >= 0).all())
        self.assertLess(thick[-1], 0.1)


class StreakTests(unittest.TestCase):
    def test_rust_runs_down_from_its_source_and_nowhere_else(self) -> None:
        tilt = np.radians(60)
        along, normal = np.array([np.cos(tilt), np.sin(tilt), 0.0]), np.array([-np.sin(tilt), np.cos(tilt), 0.0])

        def at(up: float, aside: float, raised: float = 0.0) -> np.ndarray:
            return np.array([0, 2.0, aside]) + along * up + normal * raised

        # A sheet of iron on the slope, a metre long and 60 cm wide.
        a, b, c, d = (at(up, aside, 0.005) for up, aside in ((0.2, -0.3), (1.4, -0.3), (1.4, 0.3), (0.2, 0.3)))
        around = scene(slope=tilted(60), sheet=np.array([[a, d, c], [a, c, b]]), ground=square(20))
        where = RustStreaks.usual_where()
        cards = (where.cards[0].model_copy(update={"signal": Runoff(objects=("sheet",))}), *where.cards[1:])
        places = np.array([(up, aside) for up in np.linspace(-1.6, 1.8, 35) for aside in np.linspace(-1.5, 1.5, 31)])
        found = mask(Where(cards=cards), [at(*place) for place in places], normal, around, ("streaks",))
        up, aside = places.T
        self.assertGreater(found[(up < 0.1) & (np.abs(aside) < 0.2)].mean(), 0.5)
        self.assertEqual(found[up > 1.5].max(), 0)
        self.assertLess(found[np.abs(aside) > 0.7].max(), 0.02)


class PuddleTests(unittest.TestCase):
    def basin(self) -> MeasuredScene:
        """A trough 2 m by 1 m and 10 cm deep in a block, open above."""
        parts = [
            box((-1.5, -0.3, -1.0), (1.5, -0.1, 1.0)),
            box((-1.5, -0.1, -1.0), (-1.0, 0, 1.0)),
            box((1.0, -0.1, -1.0), (1.5, 0, 1.0)),
            box((-1.0, -0.1, -1.0), (1.0, 0, -0.5)),
            box((-1.0, -0.1, 0.5), (1.0, 0, 1.0)),
        ]
        return scene(ground=join(parts).corners)

    def test_the_water_holds_what_the_basin_holds(self) -> None:
        x, z = np.meshgrid(np.linspace(-0.95, 0.95, 39), np.linspace(-0.45, 0.45, 19))
        floor = np.column_stack([x.ravel(), np.full(x.size, -0.1), z.ravel()])
        found = StandingWater(deepest=0.5).measure(
            samples(floor, np.broadcast_to([0, 1.0, 0], floor.shape)), self.basin()
        )
        volume = float(found.mean()) / 100 * 2.0 * 1.0
        self.assertAlmostEqual(volume, 0.2, delta=0.02)
        self.assertLess(np.ptp(found), 1.5)

    def test_puddles_are_where_water_stands_and_level(self) -> None:
        around, up = self.basin(), [0, 1, 0]
        inside, rim = mask(Puddles.usual_where(), [[0, -0.1, 0], [1.25, 0, 0]], up, around)
        self.assertEqual(inside, 1)
        self.assertEqual(rim, 0)
        look = Puddles().look(Conditions(damp=1))
        self.assertEqual((look.flattens, look.gloss, look.thickness), (1, 1, 0))


class WetEdgeTests(unittest.TestCase):
    def test_a_hand_above_the_water_is_wet_and_what_is_higher_is_not(self) -> None:
        around = replace(scene(wall=box((-2, -1, 0), (2, 2, 0.3)).corners), water_level=0.5)
        found = mask(
            WetEdge.usual_where(), [[0, y, 0] for y in (-0.5, 0.5, 0.55, 0.75, 1.5)], [0, 0, -1], around, ("noise",)
        )
        np.testing.assert_allclose(found, [1, 1, 1, 0, 0], atol=1e-5)
        # Where there is no water nothing is wet, however low it lies.
        dry = replace(around, water_level=None)
        low = mask(WetEdge.usual_where(), [[0, y, 0] for y in (-0.5, 0.0, 0.5)], [0, 0, -1], dry, ("noise",))
        self.assertEqual(low.max(), 0)


class SealedTests(unittest.TestCase):
    def test_nothing_weathers_inside_a_sealed_box(self) -> None:
        shell = [box((-2, 0.2, -2), (2, 0.4, 2)), box((-2, 2.4, -2), (2, 2.6, 2)), box((-2, 0.4, -2), (-1.8, 2.4, 2)),
                 box((1.8, 0.4, -2), (2, 2.4, 2)), box((-1.8, 0.4, -2), (1.8, 2.4, -1.8)),
                 box((-1.8, 0.4, 1.8), (1.8, 2.4, 2))]  # fmt: skip
        around = replace(scene(shell=join(shell).corners, ground=square(16)), water_level=0.1)
        floor = np.array([[x, 0.4, z] for x in (-1.7, 0.0, 1.2) for z in (-1.7, 0.3, 1.7)])
        wall = np.array([[-1.8, y, z] for y in (0.5, 1.2, 2.2) for z in (-1.6, 0.0, 1.6)])
        for made in COVERS:
            for points, normal in ((floor, [0, 1, 0]), (wall, [1, 0, 0])):
                with self.subTest(made.__name__, normal=normal):
                    where = made.usual_where()
                    names = {card.id for card in where.cards if card.signal.kind == "noise"}
                    self.assertLess(float(mask(where, points, normal, around, tuple(names)).max()), 0.02)

    def test_the_same_places_weather_once_the_lid_is_off(self) -> None:
        floor = box((-2, 0.2, -2), (2, 0.4, 2)).corners
        around = scene(shell=floor, ground=square(16))
        points = np.array([[x, 0.4, z] for x in (-1.0, 0.0) for z in (-0.7, 0.3)])
        for made in (Snow, Wetness):
            where = made.usual_where()
            names = tuple(card.id for card in where.cards if card.signal.kind == "noise")
            self.assertGreater(float(mask(where, points, [0, 1, 0], around, names).min()), 0.9)

    def test_a_gap_is_enough_to_be_reached(self) -> None:
        self.assertEqual(reached().starts_at, 0)
        self.assertLess(reached().full_at, 0.05)

    def test_normals_of_boxes_face_out(self) -> None:
        corners = box((-1, 0, -1), (1, 1, 1)).corners
        flat, _ = face_normals(corners)
        self.assertTrue(((corners.mean(1) - [0, 0.5, 0]) * flat).sum(1).min() > 0)
