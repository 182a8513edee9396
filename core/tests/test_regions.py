"""Regions of wide sites: what follows from a whole scene, worked out as finely as in a yard about each shot."""

from __future__ import annotations

import unittest
from functools import cache
from unittest.mock import patch

import numpy as np
from shapes import graph_of

from cenote.derive.fields import MeasuredField, told_by
from cenote.derive.finer import FinerField, FinerWater, cells_of_patches
from cenote.derive.graph import Graph
from cenote.derive.regional import RegionField, fields_on, fields_over, highest_about, window_in
from cenote.derive.regions import FADE, SIDE, Region, region_of, regions_of
from cenote.derive.sheets import LaidSheet, blankets_on
from cenote.derive.site import Site
from cenote.derive.surfaces import PATCH, ObjectAtlas
from cenote.derive.wanted import fields_of_site, nearest_first
from cenote.signals.runoff import Runoff
from cenote.signals.standing import StandingWater
from cenote.site.document import CoverLayer, Made, Placement, Shot, SiteDocument, Structure
from cenote.site.ground import Ground, Hollow
from cenote.structures.building import Building
from cenote.weather.blend import NO_WATER
from cenote.weather.climate import Climate
from cenote.weather.snow import Snow


def house(id: str, x: float, z: float) -> Structure:
    return Structure(id=id, name=id, source=Made(maker=Building(seed=4)), placement=Placement(position=(x, 0, z)))


def shot(id: str, x: float, z: float) -> Shot:
    return Shot(id=id, name=id, position=(x, 1.7, z), target=(x, 1, z - 30))


def site(side: float, *structures: Structure, shots: tuple[Shot, ...] = (), hollows: tuple[Hollow, ...] = (),
         snow: float = 0) -> Graph:  # fmt: skip
    ids = ("ground", *(one.id for one in structures))
    cover = CoverLayer(id="snow", name="Snow", cover=Snow(), where=Snow.usual_where(), surfaces=ids)
    ground = Ground(size=(side, side), spacing=2, relief=0, hollows=hollows)
    return graph_of(SiteDocument(ground=ground, structures=structures, shots=shots, weather=(cover,),
                                 climate=Climate(snow=snow)))  # fmt: skip


@cache
def wide() -> Graph:
    """Three hundred metres with a house before a shot, and one far from it; a hollow beside the first."""
    return site(300, house("near", 0, 0), house("far", 110, 110), shots=(shot("front", 0, 18), shot("again", 1, 19)),
                hollows=(Hollow(centre=(-14, 4), size=(3, 2), depth=0.25, softness=0.5),), snow=0.6)  # fmt: skip


class RegionTests(unittest.TestCase):
    def test_what_is_small_has_none(self) -> None:
        self.assertEqual(regions_of(Site(site(60, shots=(shot("a", 0, 5),)))), ())

    def test_each_shot_of_a_wide_site_has_a_square_ahead_of_it_and_near_ones_share_it(self) -> None:
        (only,) = regions_of(Site(wide()))
        self.assertEqual([high - low for low, high in zip(only.low, only.high, strict=True)], [SIDE, SIDE])
        self.assertTrue(only.low[1] < 0 < 18 < only.high[1])
        many = tuple(shot(f"s{k}", 80 * k - 200, 0) for k in range(6))
        self.assertEqual(len(regions_of(Site(site(400, shots=many)))), 4)
        self.assertEqual(regions_of(Site(site(300, shots=(shot("away", 900, 0),)))), ())

    def test_objects_stand_in_one_wholly_or_not_at_all(self) -> None:
        at = Site(wide())
        self.assertEqual(region_of(at, "near"), regions_of(at)[0])
        self.assertIsNone(region_of(at, "far"))
        self.assertIsNone(region_of(at, "ground"))

    def test_it_gives_way_to_the_whole_towards_its_border(self) -> None:
        one = Region((0.0, 10.0), (64.0, 74.0))
        weights = one.weights(np.array([-5, 0, FADE / 2, 32, 64]), np.array([10 + FADE, 42]))
        np.testing.assert_allclose(weights, [[0, 0, 0.5, 1, 0]] * 2, atol=1e-6)

    def test_what_is_nearest_to_a_shot_is_measured_first(self) -> None:
        houses = (house("far", 110, 110), house("near", 0, 0), house("between", 40, 0))
        graph = site(300, *houses, shots=(shot("front", 0, 18), shot("other", -90, 0)))
        self.assertEqual(nearest_first(graph), ["ground", "near", "between", "far"])
        self.assertEqual(nearest_first(site(60, *houses[1:])), ["ground", "near", "between"])
        first = [one.id for one in fields_of_site(graph) if hasattr(one, "id")]
        self.assertEqual(list(dict.fromkeys(first)), nearest_first(graph))

    def test_the_highest_of_four(self) -> None:
        levels = np.arange(12, dtype=np.float32).reshape(3, 4)
        np.testing.assert_array_equal(highest_about(levels, np.array([0, 2]), np.array([1, 3])), [[6, 7], [10, 11]])


class RunoffTests(unittest.TestCase):
    def test_a_roof_drains_as_on_a_small_site(self) -> None:
        small = site(40, house("near", 0, 0)).get(MeasuredField("near", Runoff())).values
        near, far = (wide().get(MeasuredField(id, Runoff())).values for id in ("near", "far"))
        shares = (0.6, 0.8, 0.95)
        for share in shares:
            self.assertAlmostEqual(np.quantile(near, share), np.quantile(small, share), delta=0.25 + 0.2 * np.quantile(small, share))  # fmt: skip
        wrong = [np.abs(one - small).mean() for one in (near, far)]
        self.assertLess(wrong[0], 0.6 * wrong[1], "far from all shots drops lie metres apart")

    def test_the_ground_before_the_shot_knows_where_the_eaves_drip(self) -> None:
        graph, signal = wide(), Runoff()
        (field,) = fields_on(Site(graph), "ground", signal)
        found = graph.get(field)
        atlas = graph.get(ObjectAtlas("ground"))
        self.assertEqual(found.window, window_in(atlas, found.level, field.region))
        self.assertEqual(found.values.shape, found.window[2:])
        level = found.level + 3
        size = PATCH * atlas.cell / 2**level
        column, row = ((np.array([0, 0]) - atlas.corner) / size).astype(int) - 3
        patches = (int(row), int(column), 6, 6)
        fine = graph.get(FinerField("ground", signal, level, patches, found.level))
        top, left, rows, columns = cells_of_patches(atlas, level, patches, found.level).window
        own = found.values[top - found.window[0] :, left - found.window[1] :][:rows, :columns]
        np.testing.assert_allclose(fine, own, atol=1e-5, err_msg="in the midst of a region only it counts")
        with patch("cenote.derive.finer.fields_over", lambda *_: []):
            whole = site(300, house("near", 0, 0), house("far", 110, 110)).get(FinerField("ground", signal, level, patches, found.level))  # fmt: skip
        self.assertGreater(np.abs(fine - whole).max(), 0.5)

    def test_far_from_all_regions_the_whole_is_what_there_is(self) -> None:
        graph, signal = wide(), Runoff()
        self.assertEqual(fields_over(Site(graph), signal, 1, (0, 0, 40, 40)), [])
        self.assertEqual(fields_on(Site(graph), "near", signal), ())

    def test_what_patches_are_composed_of_names_it(self) -> None:
        told = told_by(Site(wide()), "ground", Runoff())
        self.assertEqual([type(one) for one in told], [MeasuredField, RegionField])


class WaterTests(unittest.TestCase):
    def test_a_small_hollow_fills_to_one_level(self) -> None:
        graph, signal = wide(), StandingWater(deepest=0.2)
        (field,) = fields_on(Site(graph), "ground", signal)
        found = graph.get(field)
        atlas = graph.get(ObjectAtlas("ground"))
        middle = ((np.array([-14, 4]) - atlas.corner) / atlas.cell * 2**found.level).astype(int)[::-1] - found.window[
            :2
        ]
        here = tuple(slice(at - 12, at + 13) for at in middle.tolist())
        pond = found.water[here][found.values[here] > 2]
        self.assertGreater(len(pond), 100)
        self.assertLess(np.ptp(pond), 0.005)
        level = found.level + 3
        size = PATCH * atlas.cell / 2**level
        column, row = ((np.array([-14, 4]) - atlas.corner) / size).astype(int) - 1
        levels = graph.get(FinerWater("ground", signal, level, (int(row), int(column), 3, 3), found.level))
        self.assertAlmostEqual(float(levels.max()), float(pond.max()), delta=0.01)
        self.assertEqual(levels.min(), NO_WATER)


class SheetTests(unittest.TestCase):
    def test_snow_lies_as_a_sheet_about_the_shots_and_thins_out(self) -> None:
        graph = wide()
        ((layer, blanket),) = blankets_on(graph)
        (region,) = regions_of(Site(graph))
        for coarse in (True, False):
            laid = graph.get(LaidSheet(layer.id, coarse))
            self.assertGreater(len(laid.faces), 1000)
            x, z = laid.positions[:, 0], laid.positions[:, 2]
            self.assertTrue(x.min() >= region.low[0] - 1 and x.max() <= region.high[0] + 1)
            self.assertTrue(z.min() >= region.low[1] - 1 and z.max() <= region.high[1] + 1)
            open_ = (np.abs(x) > 12) & (np.abs(x - 0.0) < 20) & (np.abs(z - 15) < 10)
            edge = (x < region.low[0] + 0.1 * FADE) & (laid.positions[:, 1] > -0.05)
            self.assertGreater(np.median(laid.positions[open_, 1]), 0.5 * blanket.depth)
            self.assertLess(np.median(laid.positions[edge, 1]) if edge.any() else 0.0, 0.2 * blanket.depth)
            self.assertGreater(laid.positions[:, 1].max(), 3, "it lies on the roof as well")


if __name__ == "__main__":
    unittest.main()
