"""Puddles: level in the world, whatever the ground and its relief do below them."""

from __future__ import annotations

import unittest

import numpy as np

from cenote.derive.cache import memory_cache
from cenote.derive.graph import Graph
from cenote.derive.maps import SurfaceMaps
from cenote.derive.reports import covered
from cenote.derive.surfaces import Grid, ObjectShape
from cenote.geometry.texels import texel_points
from cenote.masks.where import Where
from cenote.signals.standing import StandingWater
from cenote.site.document import CoverLayer, SiteDocument
from cenote.site.ground import Ground, Hollow
from cenote.weather.base import where
from cenote.weather.climate import Climate
from cenote.weather.puddles import Puddles


def site(depth: float, kind: str, damp: float = 1.0, mask: Where | None = None) -> SiteDocument:
    """A level ground with one hollow, 4 × 3 m, that rain fills to its brim."""
    hollow = Hollow(size=(4, 3), depth=depth, rim_height=0, rim_width=0, softness=1.4)
    ground = Ground(size=(9, 8), spacing=0.25, relief=0, hollows=(hollow,), material=kind)
    layer = CoverLayer(id="puddles", cover=Puddles(), surfaces=("ground",),
                       where=mask or where(("standing", StandingWater(deepest=1), 0.0, 0.8)))  # fmt: skip
    return SiteDocument(ground=ground, weather=(layer,), climate=Climate(damp=damp))


class PuddleTests(unittest.TestCase):
    def water(
        self, document: SiteDocument, level: int = 1, shines: int = 25
    ) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Heights of the composed surface in the world, how far its normals lean from upright in degrees, and whether it shines."""
        graph = Graph(document, memory_cache())
        shape, grid, maps = graph.get(ObjectShape("ground")), graph.get(Grid("ground", level)), graph.get(SurfaceMaps("ground", level))  # fmt: skip
        ys, xs, places, normals = texel_points(shape.atlas, grid, shape.corners, shape.normals)
        lean = maps.normal[ys, xs, :3].astype(float) / 127.5 - 1
        right = np.array([1.0, 0, 0]) - normals * normals[:, :1]
        right /= np.linalg.norm(right, axis=1, keepdims=True)
        world = right * lean[:, :1] + np.cross(normals, right) * lean[:, 1:2] + normals * lean[:, 2:]
        upright = np.degrees(np.arccos(np.clip(world[:, 1] / np.linalg.norm(world, axis=1), -1, 1)))
        return places[:, 1] + maps.height[ys, xs], upright, maps.orm[ys, xs, 1] < shines

    def test_the_surface_is_level_and_its_normals_are_upright(self) -> None:
        for depth in (0.08, 0.5):
            for kind in ("soil", "cobble"):
                with self.subTest(depth=depth, kind=kind):
                    heights, upright, wet = self.water(site(depth, kind))
                    self.assertGreater(wet.mean(), 0.05)
                    level = np.median(heights[wet])
                    self.assertLess(np.quantile(np.abs(heights[wet] - level), 0.99), 0.001)
                    self.assertLess(np.quantile(upright[wet], 0.95), 0.6)

    def test_what_stands_out_of_the_water_stays_dry(self) -> None:
        heights, _, wet = self.water(site(0.08, "cobble"))
        level = np.median(heights[wet])
        self.assertLess((wet & (heights > level + 0.002)).sum(), 0.002 * wet.sum())

    def test_as_it_dries_up_its_level_sinks_alike_everywhere(self) -> None:
        levels, areas = [], []
        for damp in (1.0, 0.83, 0.8):
            heights, _, wet = self.water(site(0.5, "soil", damp))
            levels.append(np.median(heights[wet]))
            areas.append(wet.sum())
            self.assertLess(np.quantile(np.abs(heights[wet] - levels[-1]), 0.99), 0.001)
        self.assertTrue(levels[0] > levels[1] > levels[2], levels)
        self.assertTrue(areas[0] > areas[1] > areas[2], areas)

    def test_what_is_told_is_what_is_composed(self) -> None:
        for damp in (1.0, 0.83):
            document = site(0.3, "cobble", damp)
            _, _, wet = self.water(document, 2, shines=110)  # Half of what dry cobbles are, so half covered.
            area = 9 * 8 * wet.mean()
            told, _ = covered(Graph(document, memory_cache()), document.weather[0])
            self.assertAlmostEqual(told, area, delta=0.03 * area)

    def test_without_a_card_of_standing_water_it_fills_the_relief(self) -> None:
        heights, _, wet = self.water(site(0.08, "cobble", mask=Where()))
        self.assertGreater(wet.mean(), 0.9)
        self.assertLess(np.ptp(heights[wet]), 0.2)


if __name__ == "__main__":
    unittest.main()
