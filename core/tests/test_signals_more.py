"""Signals of weather, water, zones, parts and paint, each against a shape whose answer is known in closed form."""

from __future__ import annotations

import unittest
from itertools import pairwise

import numpy as np
from shapes import UP, looked_at, samples, scene, square

from cenote.geometry.build import box
from cenote.geometry.ground import ground_mesh, height_field
from cenote.geometry.plan import filled, ponds
from cenote.geometry.rays import hemisphere, turned_to
from cenote.geometry.strokes import BrushStroke
from cenote.light.precipitation import RAIN_FALLS
from cenote.signals.above_ground import AboveGround
from cenote.signals.edge import Edge
from cenote.signals.ledge import BelowLedge
from cenote.signals.noise import Noise
from cenote.signals.painted import Painted
from cenote.signals.part import OnPart
from cenote.signals.rain import RainExposure
from cenote.signals.runoff import Runoff
from cenote.signals.scene import MeasuredScene, Samples
from cenote.signals.shore import FromWater
from cenote.signals.splash import Splash
from cenote.signals.standing import StandingWater
from cenote.signals.sun import SunHours, day_length, sun_directions
from cenote.signals.zone import InZone

NOTHING = MeasuredScene({})
EAST = np.array([1, 0, 0], np.float32)


def sphere(radius: float, rings: int = 96) -> np.ndarray:
    """A sphere about the origin, float32 (M, 3, 3)."""
    up, round_ = np.meshgrid(np.linspace(0, np.pi, rings), np.linspace(0, 2 * np.pi, 2 * rings), indexing="ij")
    at = radius * np.stack([np.sin(up) * np.cos(round_), np.cos(up), np.sin(up) * np.sin(round_)], axis=-1)
    a, b, c, d = at[:-1, :-1], at[:-1, 1:], at[1:, 1:], at[1:, :-1]
    faces = np.concatenate([np.stack([a, b, c], 2).reshape(-1, 3, 3), np.stack([a, c, d], 2).reshape(-1, 3, 3)])
    area = np.linalg.norm(np.cross(faces[:, 1] - faces[:, 0], faces[:, 2] - faces[:, 0]), axis=1)
    return faces[area > 1e-9].astype(np.float32)


def slope_of(degrees: float, side: float, height: float = 0) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A square plane that falls towards −X; its rotation and its normal."""
    cos, sin = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    turn = np.array([[cos, -sin, 0], [sin, cos, 0], [0, 0, 1]])
    corners = (square(side) @ turn.T + np.array([0, height, 0])).astype(np.float32)
    return corners, turn, (turn @ UP).astype(np.float32)


class EdgeTests(unittest.TestCase):
    def test_flat_hollow_and_open_things_have_none(self) -> None:
        self.assertEqual(Edge().measure(samples([0, 0, 0]), scene(ground=square(9)))[0], 0)
        room = box((-1, -1, -1), (1, 1, 1)).corners[:, ::-1]
        self.assertEqual(Edge().measure(samples([0.99, -1, 0]), scene(room=room))[0], 0)

    def test_near_a_right_angle_by_the_distance_from_it(self) -> None:
        # What is left of a cone of the radius about the point along a line at distance k: a closed form.
        block = scene(block=box((-1, -1, -1), (1, 1, 1)).corners)
        for away in (0.002, 0.015, 0.03, 0.045, 0.07):
            k = min(away / 0.06, 1)
            h = np.sqrt(1 - k * k)
            known = (h - k * k * np.arcsinh(h / k)) ** 2
            at = samples(np.column_stack([np.full(64, 1 - away), np.ones(64), np.linspace(-0.5, 0.5, 64)]))
            found = Edge(radius=0.06).measure(at, block)
            np.testing.assert_allclose(found, known, atol=0.03)

    def test_the_same_edge_is_the_same_however_thick_or_large_the_thing_is(self) -> None:
        seen = []
        for thick, side in ((0.003, 1), (0.01, 1), (0.05, 1), (2, 1), (2, 20), (2, 60)):
            block = scene(block=box((-side, -thick, -side), (side, 0, side)).corners)
            at = samples(np.column_stack([np.full(64, side - 0.01), np.zeros(64), np.linspace(-0.5, 0.5, 64)]))
            seen.append(Edge().measure(at, block).mean())
            middle = Edge().measure(samples([0, 0, 0]), block)[0]
            self.assertEqual(middle, 0)
        np.testing.assert_allclose(seen, seen[0], atol=0.02)

    def test_a_rounded_edge_is_as_much_of_an_edge_as_a_sharp_one_far_from_it(self) -> None:
        # Three bevels of 30° within 1 cm bend as far as one of 90°; so does an edge that is cut into short bits.
        def prism(profile: list[tuple[float, float]], cuts: int) -> np.ndarray:
            along = np.linspace(-1, 1, cuts + 1)
            strips = []
            for (x0, y0), (x1, y1) in pairwise(profile):
                for z0, z1 in pairwise(along):
                    a, b, c, d = ([x0, y0, z0], [x0, y0, z1], [x1, y1, z1], [x1, y1, z0])
                    strips += [[a, b, c], [a, c, d]]
            return np.array(strips, np.float32)

        t = np.radians([0, 30, 60, 90])
        bevel = [(-2.0, 0.0), *(zip(-0.01 + 0.01 * np.sin(t), -0.01 + 0.01 * np.cos(t), strict=True)), (0.0, -2.0)]
        at = samples(np.column_stack([np.full(9, -0.08), np.zeros(9), np.linspace(-0.5, 0.5, 9)]))
        sharp = Edge(radius=0.2).measure(at, scene(one=prism([(-2, 0), (0, 0), (0, -2)], 1))).mean()
        for profile, cuts in ((bevel, 1), ([(-2, 0), (0, 0), (0, -2)], 300)):
            found = Edge(radius=0.2).measure(at, scene(one=prism(profile, cuts)))
            self.assertAlmostEqual(found.mean(), sharp, delta=0.1 * sharp)

    def test_on_a_sphere_by_its_radius_however_fine_it_is(self) -> None:
        # The curvature measure of a sphere is 2 / R for each m², and a cone of radius r holds a third of its disc.
        ways = turned_to(UP[None], hemisphere(40))[0]
        for sides in (30, 120):
            ball = scene(ball=sphere(0.2, sides))
            found = Edge(radius=0.05).measure(samples(ways * 0.1995, ways), ball)
            self.assertAlmostEqual(found.mean(), (4 / 3 * 0.05 / 0.2) ** 2, delta=0.025)


class RainTests(unittest.TestCase):
    def test_an_open_plane_by_the_angle_to_the_fall(self) -> None:
        for wind in (0.0, 3.0, 6.5, 15.0):
            tilt = np.arctan(wind / RAIN_FALLS)
            rain = RainExposure(bearing=90, wind=wind)
            self.assertAlmostEqual(rain.measure(samples([0, 0, 0]), NOTHING)[0], np.cos(tilt), delta=0.02)
            self.assertAlmostEqual(rain.measure(samples([0, 0, 0], EAST), NOTHING)[0], np.sin(tilt), delta=0.04)
            self.assertLess(rain.measure(samples([0, 0, 0], -EAST), NOTHING)[0], 0.05)

    def test_a_wall_shelters_the_ground_behind_it_as_far_as_rain_slants(self) -> None:
        # A wall of height h keeps h · wind / fall of ground behind it dry.
        wall = box((0, 0, -50), (0.1, 2, 50)).corners
        rain = RainExposure(bearing=90, wind=RAIN_FALLS)
        behind = rain.measure(samples([[-1.2, 0, 0], [-3.2, 0, 0]]), scene(wall=wall, ground=square(100)))
        self.assertLess(behind[0], 0.02)
        self.assertAlmostEqual(behind[1], np.sqrt(0.5), delta=0.03)


class SunTests(unittest.TestCase):
    def test_day_lengths(self) -> None:
        self.assertAlmostEqual(day_length(0, 100), 12, places=6)
        # The equinoxes of 2025: 20 March 09:01 and 22 September 18:19.
        for day in (79, 265):
            self.assertAlmostEqual(day_length(50, day), 12, delta=0.03)
        self.assertEqual((day_length(80, 172), day_length(80, 355)), (24, 0))

    def test_noon_is_due_south_and_as_high_as_latitude_and_season_allow(self) -> None:
        noon = sun_directions(50, 172, 49)[24]
        self.assertAlmostEqual(np.degrees(np.arcsin(noon[1])), 90 - 50 + 23.45, delta=0.05)
        self.assertLess(abs(noon[0]), 1e-5)
        self.assertGreater(noon[2], 0)
        morning = sun_directions(50, 172, 49)[3]
        self.assertGreater(morning[0], 0)

    def test_open_ground_has_the_whole_day_and_walls_their_share(self) -> None:
        ground = scene(ground=square(100))
        for day in (80, 172, 355):
            found = SunHours(latitude=50, day=day).measure(samples([0, 0, 0]), ground)[0]
            self.assertAlmostEqual(found, day_length(50, day), places=3)
        # At an equinox the sun is south of the east–west line all day: nothing reaches a north wall, all a south wall.
        north, south = np.array([0, 0, -1], np.float32), np.array([0, 0, 1], np.float32)
        at = samples([[0, 1, 0], [0, 1, 0], [0, 1, 0]], np.array([north, south, EAST]))
        found = SunHours(latitude=50, day=79).measure(at, ground)
        np.testing.assert_allclose(found, [0, 12, 6], atol=0.26)


class WaterTests(unittest.TestCase):
    def test_runoff_grows_with_the_plan_above_and_drips_from_the_eaves(self) -> None:
        corners, turn, normal = slope_of(30, 6, height=4)
        around = scene(roof=corners, ground=square(30))
        along = np.array([2.0, 0.0, -2.0])
        for x in along:
            places = np.column_stack([np.full(40, x), np.zeros(40), np.linspace(-1.5, 1.5, 40)]) @ turn.T + [0, 4, 0]
            found = Runoff().measure(samples(places, normal), around).mean()
            self.assertAlmostEqual(found, (3 - x) * np.cos(np.radians(30)), delta=0.12 + 0.06 * (3 - x))
        eave = -3 * np.cos(np.radians(30))
        line = np.column_stack([np.linspace(eave - 2, eave + 2, 81), np.zeros(81), np.zeros(81)])
        drips = Runoff().measure(samples(line), around)
        self.assertAlmostEqual(line[drips.argmax(), 0], eave, delta=0.2)
        self.assertEqual(drips[:30].max(), 0)
        # Water of the ground alone has not run over the roof, nor has water of the roof run over nothing.
        self.assertEqual(Runoff(objects=("ground",)).measure(samples(line[:30]), around).max(), 0)
        self.assertGreater(Runoff(objects=("roof",)).measure(samples(line), around).max(), 1)

    def test_water_goes_over_an_edge_and_down_the_side(self) -> None:
        block = box((-1, -1, -1), (1, 0, 1)).corners.copy()
        top = block[:, :, 1] == 0
        block[..., 1][top] = np.tan(np.radians(20)) * (block[..., 0][top] + 1)
        side = samples(np.column_stack([np.full(30, -1.0), np.full(30, -0.5), np.linspace(-0.7, 0.7, 30)]), -EAST)
        back = samples(np.column_stack([np.full(30, 1.0), np.full(30, -0.5), np.linspace(-0.7, 0.7, 30)]), EAST)
        around = scene(block=block)
        self.assertAlmostEqual(Runoff().measure(side, around).mean(), 2, delta=0.5)
        self.assertEqual(Runoff().measure(back, around).max(), 0)

    def test_inside_a_sealed_box_nothing_runs_nor_is_wet(self) -> None:
        shell = box((-1, 0, -1), (1, 2, 1)).corners
        around = scene(shell=shell, ground=square(8))
        inside = samples([[0, 0.01, 0], [0.99, 1, 0], [0, 1.99, 0]], np.array([UP, -EAST, -UP]))
        for signal in (Runoff(), RainExposure(), SunHours(), Splash(), StandingWater()):
            self.assertEqual(signal.measure(inside, around).max(), 0, signal.kind)

    def test_a_bowl_fills_to_its_rim_and_no_higher(self) -> None:
        rows, columns = np.mgrid[-20:21, -20:21] * 0.1
        away = np.hypot(rows, columns)
        bowl = np.where(away < 1.5, away**2 - 1.5**2, 0) + np.where(away > 1.7, 1.7 - away, 0)
        level = filled(bowl)
        np.testing.assert_allclose(level[away < 1.45], 0, atol=0.16)
        self.assertTrue((level >= bowl).all())
        # A gap in the rim lets it drain down to the gap.
        bowl[20, 30:] = np.minimum(bowl[20, 30:], -1.0)
        self.assertAlmostEqual(filled(bowl)[20, 20], -1.0, places=6)
        self.assertAlmostEqual(ponds(bowl, 0.5)[20, 20], bowl.min() + 0.5, places=6)
        self.assertEqual(ponds(np.tile(np.arange(9.0), (9, 1)), 1).max(), -np.inf)

    def test_troughs_hold_water_however_thin_their_walls_and_turned(self) -> None:
        ground = square(40)
        for wall in (0.02, 0.05):
            for degrees in (0, 10, 33, 45, 71):
                parts = [
                    box((-0.6, 0, -0.3), (0.6, 0.05, 0.3)),
                    box((-0.6, 0, -0.3), (0.6, 0.3, -0.3 + wall)),
                    box((-0.6, 0, 0.3 - wall), (0.6, 0.3, 0.3)),
                    box((-0.6, 0, -0.3), (-0.6 + wall, 0.3, 0.3)),
                    box((0.6 - wall, 0, -0.3), (0.6, 0.3, 0.3)),
                ]
                turn = np.radians(degrees)
                spin = np.array([[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]])
                shift = np.array([3.013, 0, -2.027])
                trough = (np.concatenate([part.corners for part in parts]) @ spin.T + shift).astype(np.float32)
                u, v = np.meshgrid(np.linspace(-0.52, 0.52, 60), np.linspace(-0.22, 0.22, 30))
                inside = np.column_stack([u.ravel(), np.full(u.size, 0.05), v.ravel()]) @ spin.T + shift
                u, v = np.meshgrid(np.linspace(-0.75, 0.75, 80), np.linspace(-0.45, 0.45, 60))
                off = (np.abs(u) > 0.61) | (np.abs(v) > 0.31)
                outside = np.column_stack([u[off], np.zeros(off.sum()), v[off]]) @ spin.T + shift
                around = scene(ground=ground, trough=trough)
                signal = StandingWater(deepest=1)
                with self.subTest(wall=wall, degrees=degrees):
                    np.testing.assert_allclose(signal.measure(samples(inside), around), 25, atol=0.2)
                    self.assertEqual(signal.measure(samples(outside), around).max(), 0)

    def test_two_hollows_side_by_side_hold_each_its_own(self) -> None:
        heights = np.zeros((20, 41))
        heights[2:-2, 2:20], heights[2:-2, 21:-2] = -0.3, -0.8
        wall = np.full(heights.shape, -np.inf)
        found = ponds(heights, 0.5)
        np.testing.assert_allclose(found[10, [10, 30]], [0, -0.3])
        # Without a row between them they are one, but for what stands between.
        heights[2:-2, 20] = -0.3
        np.testing.assert_allclose(ponds(heights, 0.5)[10, [10, 30]], [-np.inf, -0.3])
        wall[:, 20] = 0.1
        np.testing.assert_allclose(
            ponds(heights, 0.5, (wall, np.full(heights.shape, -np.inf)))[10, [10, 30]], [0, -0.3]
        )

    def test_standing_water_by_the_depth_of_a_basin(self) -> None:
        x, z = height_field((8, 8), 0.1)
        away = np.hypot(x, z)
        heights = np.where(away < 2, -0.3 * (1 - (away / 2) ** 2), 0) - np.where(away > 2.2, away - 2.2, 0)
        ground = ground_mesh(x, z, heights, "soil").corners
        at = samples([[0, -0.3, 0], [1, -0.225, 0], [3.5, -1.3, 0]])
        found = StandingWater(deepest=1).measure(at, scene(ground=ground))
        np.testing.assert_allclose(found, [30, 22.5, 0], atol=1.0)
        shallow = StandingWater(deepest=0.1).measure(at, scene(ground=ground))
        np.testing.assert_allclose(shallow, [10, 2.5, 0], atol=1.0)
        roof = square(6, height=3)
        np.testing.assert_allclose(StandingWater(deepest=1).measure(at, scene(ground=ground, roof=roof)), 0)

    def test_below_a_sill_it_falls_with_the_depth(self) -> None:
        # A sill of 10 cm over a wall that looks to +Z; beside it, and in its own depth's reach, there is nothing.
        sill = box((-0.5, 1.0, 0), (0.5, 1.05, 0.1)).corners
        wall = samples([[0, 0.9, 0], [0, 0.5, 0], [0, 0.3, 0], [0.8, 0.9, 0], [0, 1.2, 0]], (0, 0, 1))
        found = BelowLedge(depth=0.6).measure(wall, scene(sill=sill))
        np.testing.assert_allclose(found, [1 - 0.1 / 0.6, 1 - 0.5 / 0.6, 0, 0, 0], atol=2e-3)
        # What juts out less than is asked for is none.
        self.assertEqual(BelowLedge(depth=0.6, juts=0.2).measure(wall, scene(sill=sill)).max(), 0)
        under = samples([0, 0.99, 0.05], (0, -1, 0))
        self.assertEqual(BelowLedge().measure(under, scene(sill=sill))[0], 0)

    def test_splash_falls_with_the_height_above_wet_ground(self) -> None:
        wall = box((-1, -1, -20), (0, 4, 20)).corners
        heights = np.array([0.02, 0.2, 0.4, 0.6])
        at = samples(np.column_stack([np.zeros(4), heights, np.zeros(4)]), EAST)
        found = Splash(height=0.5).measure(at, scene(wall=wall, ground=square(60)))
        np.testing.assert_allclose(found, np.clip(1 - heights / 0.5, 0, 1) ** 2, atol=0.02)
        porch = box((0, 3, -20), (10, 3.1, 20)).corners
        self.assertEqual(Splash().measure(at, scene(wall=wall, ground=square(60), porch=porch)).max(), 0)

    def test_the_shore_by_the_slope_of_the_beach(self) -> None:
        x, z = height_field((20, 10), 0.5)
        beach = ground_mesh(x, z, 0.1 * x, "sand").corners
        around = MeasuredScene(scene(ground=beach).objects, water_level=0.3)
        found = FromWater().measure(samples([[-4, -0.4, 0], [3, 0.3, 0], [8, 0.8, 1]]), around)
        np.testing.assert_allclose(found, [-7, 0, 5], atol=0.1)
        self.assertEqual(FromWater().measure(samples([0, 0, 0]), scene(ground=beach))[0], 1000)
        self.assertEqual(looked_at(FromWater(), around), {"ground", "water", "extent"})


class PlaceTests(unittest.TestCase):
    def test_height_above_sloping_ground(self) -> None:
        corners, _, _ = slope_of(10, 20)
        x = 3.0
        ground = x * np.tan(np.radians(10))
        around = scene(ground=corners, hut=box((2, 0, -1), (4, 5, 1)).corners)
        found = AboveGround().measure(samples([[x, ground + 2, 0], [x, ground - 0.5, 0], [90, 7, 0]]), around)
        np.testing.assert_allclose(found, [2, -0.5, 7], atol=1e-3)
        self.assertEqual(looked_at(AboveGround(), around), {"ground"})

    def test_zones_are_signed_distances_to_their_outlines(self) -> None:
        outlines = {"yard": np.array([[0, 0], [4, 0], [4, 4], [0, 4.0]]), "bed": np.array([[9, 0], [11, 0], [10, 3.0]])}
        around = MeasuredScene({}, zones=outlines)
        at = samples([[2, 5, 2], [-1, 0, 2], [4, 0, 7], [10, 0, 1]])
        np.testing.assert_allclose(InZone(zones=("yard",)).measure(at, around)[:3], [2, -1, -3], atol=1e-5)
        self.assertGreater(InZone().measure(at, around)[3], 0)
        self.assertLess(InZone(zones=("yard",)).measure(at, around)[3], 0)
        self.assertEqual(InZone(zones=("gone",)).measure(at, around).max(), -1000)
        self.assertEqual(looked_at(InZone(zones=("yard",)), around), {"yard"})
        self.assertEqual(looked_at(InZone(), around), {"yard", "bed"})

    def test_parts_by_name(self) -> None:
        at = Samples(np.zeros((3, 3), np.float32), np.tile(UP, (3, 1)), np.array([0, 1, 0], np.int16), ("wood", "iron"))
        np.testing.assert_array_equal(OnPart(parts=("iron",)).measure(at, NOTHING), [0, 1, 0])
        np.testing.assert_array_equal(OnPart().measure(at, NOTHING), [1, 1, 1])
        np.testing.assert_array_equal(OnPart(parts=("iron",)).measure(samples([0, 0, 0]), NOTHING), [0])

    def test_paint_by_the_distance_to_its_stroke(self) -> None:
        line = BrushStroke(radius=1, soft=1, path=((0, 0, 0), (4, 0, 0)))
        at = samples([[2, 0, 0], [2, 0, 0.5], [2, 0.5, 0], [5.5, 0, 0], [4.5, 0, 0]])
        np.testing.assert_allclose(Painted(strokes=(line,)).measure(at, NOTHING), [1, 0.5, 0.5, 0, 0.5], atol=1e-6)
        wiped = BrushStroke(adds=False, radius=0.4, soft=0, strength=0.75, path=((2, 0, 0),))
        np.testing.assert_allclose(
            Painted(strokes=(line, wiped)).measure(at, NOTHING), [0.25, 0.5, 0.5, 0, 0.5], atol=1e-6
        )

    def test_veins_do_not_lie_along_level_ground(self) -> None:
        x, z = np.meshgrid(np.arange(0, 40, 0.13), np.arange(0, 40, 0.13))
        flat = np.column_stack([x.ravel(), np.zeros(x.size), z.ravel()])
        means = [Noise(size=1, octaves=1, look="veins").measure(samples(flat + np.array([0, up, 0])), NOTHING).mean()
                 for up in (0.0, 0.31, 0.5, 1.0)]  # fmt: skip
        self.assertLess(np.ptp(means), 0.03, means)

    def test_kinds_of_noise_keep_to_their_range_and_differ(self) -> None:
        at = samples(np.random.default_rng(0).uniform(-50, 50, (20_000, 3)))
        found = {
            look: Noise(size=2, look=look).measure(at, NOTHING) for look in ("clouds", "cells", "veins", "patches")
        }
        for look, values in found.items():
            self.assertGreaterEqual(values.min(), 0, look)
            self.assertLessEqual(values.max(), 1, look)
            self.assertGreater(values.std(), 0.08, look)
        # Patches are even: nearly all neighbours a centimetre apart are the same.
        near = samples(at.positions + np.float32(0.01))
        same = Noise(size=2, look="patches").measure(near, NOTHING) == found["patches"]
        self.assertGreater(same.mean(), 0.95)
        # Taller blotches change less upwards than sideways.
        tall = Noise(size=1, upright=8)
        up, aside = (
            np.abs(tall.measure(samples(at.positions + step), NOTHING) - tall.measure(at, NOTHING)).mean()
            for step in (UP * np.float32(0.3), EAST * np.float32(0.3))
        )
        self.assertLess(up * 3, aside)
