"""Water that runs over surfaces, against what must drain past each line across it."""

from __future__ import annotations

import tracemalloc
import unittest
from collections.abc import Callable
from unittest.mock import patch

import numpy as np

from cenote.geometry.build import box
from cenote.geometry.flow import FlowField, FlowNodes, Trails, _downhill, passed_over, rained_on, traced
from cenote.geometry.ground import ground_mesh, height_field
from cenote.geometry.mesh import face_normals
from cenote.geometry.rays import RayScene
from cenote.signals.runoff import Runoff
from cenote.signals.scene import MeasuredScene, Samples, SceneObject

WIDE, LONG = 10.0, 20.0
Heights = Callable[[np.ndarray, np.ndarray], np.ndarray]


def slope(degrees: float) -> float:
    return float(np.tan(np.radians(degrees)))


def ground(heights: Heights) -> np.ndarray:
    """Corners of a ground 10 × 20 m that falls towards +z, float32 (M, 3, 3)."""
    x, z = height_field((WIDE, LONG), 0.25)
    return ground_mesh(x, z, heights(x, z), "soil").corners.astype(np.float32)


def run(corners: np.ndarray, drops: int = 12_000, counts: np.ndarray | None = None) -> tuple[list[Trails], float]:
    """What rain leaves on surfaces, step by step, and the plan that each drop stands for, m²."""
    rays, flat = RayScene(corners), corners.reshape(-1, 3)
    places, faces, cell = rained_on(rays, flat.min(0), flat.max(0), drops)
    trails = traced(rays, face_normals(corners)[0], places, faces, cell)
    return list(trails if counts is None else passed_over(trails, faces, counts)), cell


def passed(trails: list[Trails], z: float, reach: float = np.inf, across: float = 0.5) -> float:
    """What passes a line across the slope, m² of plan, as far as ``reach`` from the middle; over a band of two ``across``."""
    total = 0.0
    for one in trails:
        some = (np.abs(one.places[:, 2] - z) < across) & (np.abs(one.places[:, 0]) < reach)
        total += float(one.flows[some].sum(dtype=np.float64))
    return total / (2 * across)


class DownhillTests(unittest.TestCase):
    def test_on_a_face_it_is_the_steepest_way(self) -> None:
        normal = np.array([[0, np.cos(0.5), np.sin(0.5)]], np.float32)
        way, creased = _downhill(normal, normal)
        self.assertFalse(creased[0])
        self.assertAlmostEqual(float(np.linalg.norm(way)), np.sin(0.5), places=6)
        self.assertLess(way[0, 1], 0)
        self.assertAlmostEqual(float((way * normal).sum()), 0, places=6)

    def test_in_a_valley_it_leads_into_neither_face(self) -> None:
        left, right = (np.array([side * 0.5, 1, 0.1]) / np.linalg.norm([0.5, 1, 0.1]) for side in (1, -1))
        way, creased = _downhill(left[None].astype(np.float32), right[None].astype(np.float32))
        self.assertTrue(creased[0])
        np.testing.assert_allclose([way[0] @ left, way[0] @ right], 0, atol=1e-6)
        self.assertGreater(way[0, 2], 0)

    def test_over_an_edge_to_what_is_steeper_it_goes_on(self) -> None:
        gentle, steep = (np.array([[tilt, 1, 0]], np.float32) / np.sqrt(1 + tilt * tilt) for tilt in (0.2, 2.0))
        way, creased = _downhill(steep, gentle)
        self.assertFalse(creased[0])
        self.assertGreater(way[0, 0], 0)


class DrainTests(unittest.TestCase):
    def drains(self, heights: Heights, share: float, *, reach: float = np.inf, aside: float = 0.0) -> int:
        """Check what passes at four lines: the plan above each. :param aside: what comes in from the sides on its way."""
        trails, _ = run(ground(heights))
        for z in (-5.0, 0.0, 5.0):
            wanted = WIDE * (z + LONG / 2)
            self.assertAlmostEqual(passed(trails, z, reach), wanted + aside, delta=share * (wanted + aside))
        return sum(len(one.flows) for one in trails)

    def test_a_plane_drains_evenly(self) -> None:
        self.drains(lambda x, z: -z * slope(10), 0.05)

    def test_the_bed_of_a_valley_carries_all_that_comes_down_to_it(self) -> None:
        # Within 0.6 m of the bed, water that comes in from either side has 0.6 m to go, a metre of bed gathers 10 m².
        aside = WIDE * 0.6 / np.cos(np.radians(30)) * 0.85
        steps = self.drains(lambda x, z: np.abs(x) * slope(30) - z * slope(2), 0.05, reach=0.6, aside=aside)
        plane, _ = run(ground(lambda x, z: -z * slope(10)))
        # A bed took ten times as many steps while drops went to and fro between its two sides.
        self.assertLess(steps, 4 * sum(len(one.flows) for one in plane))

    def test_a_rounded_valley_carries_it_too(self) -> None:
        self.drains(lambda x, z: 0.1 * x * x - z * slope(3), 0.05, reach=0.6)

    def test_a_steep_ditch_keeps_what_falls_into_it(self) -> None:
        trails, _ = run(ground(lambda x, z: np.minimum(np.abs(x) * 1.5, 1) - z * slope(2)))
        upper, lower = (passed(trails, z, 0.6) for z in (-5.0, 5.0))
        self.assertGreater(upper, 4)
        self.assertAlmostEqual(lower / upper, 3, delta=0.5)

    def test_water_rests_in_a_bowl(self) -> None:
        trails, _ = run(ground(lambda x, z: 0.02 * (x * x + z * z)), drops=4_000)
        far = sum(float(one.flows[np.hypot(one.places[:, 0], one.places[:, 2]) > 4.5].sum()) for one in trails)
        near = sum(float(one.flows[np.hypot(one.places[:, 0], one.places[:, 2]) < 1.0].sum()) for one in trails)
        self.assertGreater(near / (np.pi * 1.0**2), far / (WIDE * LONG - np.pi * 4.5**2))


class EdgeTests(unittest.TestCase):
    def test_a_roof_drips_along_its_eaves_alone(self) -> None:
        roof = box((-2, 3, -2), (2, 3.2, 2)).corners.astype(np.float32)
        roof[..., 1] += roof[..., 2] * -0.3
        floor = box((-6, -0.2, -6), (6, 0, 6)).corners.astype(np.float32)
        corners = np.concatenate([roof, floor])
        counts = np.arange(len(corners)) < len(roof)
        trails, _ = run(corners, counts=counts)
        places = np.concatenate([one.places for one in trails])
        flows = np.concatenate([one.flows for one in trails])
        low = places[:, 1] < 0.1
        # The lower eaves lie at z = 2; what drips there has come from 16 m² of roof.
        self.assertGreater(flows[low & (np.abs(places[:, 2] - 2) < 0.5)].sum(), 0.9 * flows[low].sum())
        self.assertEqual(flows[low & (places[:, 2] < 1.5)].sum(), 0)

    def test_a_field_tells_what_passes_a_metre_of_width(self) -> None:
        corners = ground(lambda x, z: -z * slope(10))
        trails, cell = run(corners)
        field = FlowField(trails, FlowNodes(corners, max(0.05, 1.5 * cell)))
        z = np.linspace(-6, 6, 40)
        places = np.column_stack([np.linspace(-3, 3, 40), -z * slope(10), z]).astype(np.float32)
        normal = np.array([0, np.cos(np.radians(10)), np.sin(np.radians(10))], np.float32)
        found = field.at(places, np.tile(normal, (40, 1)))
        np.testing.assert_allclose(found, z + LONG / 2, rtol=0.1)

    def test_water_is_traced_once_a_scene_whatever_of_it_counts(self) -> None:
        scene = MeasuredScene({"ground": SceneObject(ground(lambda x, z: -z * slope(10)), "g")})
        place = Samples(np.array([[0, 0, 0]], np.float32), np.array([[0, 0.985, 0.174]], np.float32))
        with patch("cenote.signals.runoff.traced", side_effect=traced) as followed:
            every = Runoff().measure(place, scene)
            same = Runoff(objects=("ground",)).measure(place, scene)
            none = Runoff(objects=("shed",)).measure(place, scene)
        self.assertEqual(followed.call_count, 1)
        np.testing.assert_allclose(every, LONG / 2, rtol=0.1)
        np.testing.assert_allclose(same, every)
        self.assertEqual(none[0], 0)

    def test_nothing_runs_where_nothing_is(self) -> None:
        corners = ground(lambda x, z: 0 * x)
        trails, _ = run(corners)
        self.assertLess(sum(float(one.flows.sum()) for one in trails), 1e-6)


if __name__ == "__main__":
    unittest.main()


class LedgeTests(unittest.TestCase):
    def runoff(self, thick: float, places: list[list[float]]) -> np.ndarray:
        """What has run over an iron plate on a wall, at places of the wall."""
        plate = box((-0.15, 1.8, 0), (0.15, 2.1, thick)).corners
        parts = {"wall": box((-2, 0, -0.2), (2, 3, 0)).corners, "plate": plate}
        around = MeasuredScene({name: SceneObject(corners, name) for name, corners in parts.items()})
        at = np.array(places, np.float32)
        facing = np.tile(np.array([[0, 0, 1]], np.float32), (len(at), 1))
        return Runoff(objects=("plate",)).measure(Samples(at, facing), around)

    def test_iron_on_a_wall_leaves_a_streak_below_it_and_none_above(self) -> None:
        for thick in (0.01, 0.03, 0.06):
            below = self.runoff(thick, [[x, y, 0] for x in (-0.1, -0.03, 0.05, 0.1) for y in (1.6, 1.0, 0.4)])
            above = self.runoff(thick, [[x, y, 0] for x in (-0.1, 0.0, 0.1) for y in (2.2, 2.5)])
            beside = self.runoff(thick, [[x, y, 0] for x in (-0.6, 0.6) for y in (2.0, 1.0)])
            with self.subTest(thick=thick):
                self.assertGreater(below.mean(), 0.02)
                self.assertGreater((below > 0).mean(), 0.6)
                self.assertLess(max(above.max(), beside.max()), 0.1 * below.mean())

    def test_what_drips_far_from_a_wall_falls(self) -> None:
        shelf = box((-1, 1.0, 0), (1, 1.02, 0.5)).corners
        wall = box((-2, 0, -0.2), (2, 3, 0)).corners
        corners = np.concatenate([wall, shelf])
        trails, _ = run(corners, 4000)
        low = [one for one in trails if len(one.places)]
        places = np.concatenate([one.places for one in low])
        under = (places[:, 1] < 0.95) & (np.abs(places[:, 0]) < 0.9) & (places[:, 2] > -0.05)
        self.assertEqual(under.sum(), 0)


class MemoryTests(unittest.TestCase):
    def test_what_nodes_take_follows_the_area_not_the_triangles(self) -> None:
        taken, kept = [], []
        for spacing in (0.2, 0.025):
            x, z = height_field((WIDE, LONG), spacing)
            corners = ground_mesh(x, z, 0.3 * np.sin(x) - 0.1 * z, "soil").corners.astype(np.float32)
            tracemalloc.start()
            nodes = FlowNodes(corners, 0.1)
            taken.append(tracemalloc.get_traced_memory()[1])
            tracemalloc.stop()
            kept.append(float(nodes.areas.sum(dtype=np.float64)))
        # 640,000 triangles in place of 10,000: the points of one batch, and a few numbers for each triangle.
        self.assertLess(taken[1], taken[0] + 90e6)
        self.assertAlmostEqual(kept[0], kept[1], delta=0.01 * kept[0])
