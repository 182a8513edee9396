"""Fog in banks and in the sun: against what can be worked out by hand."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import graph_of, scene, small_site, square

from cenote.derive.sunlit import Sunlit, sunlit
from cenote.geometry.rays import RayScene
from cenote.light.air import Air, Medium
from cenote.light.daylight import Light, daylight
from cenote.light.fogged import EVERYWHERE, SunlitAir, fogged
from cenote.scatter.layer import MixItem, Planted, Scatter

DEEP = Medium.of(Air(fog="deep", fog_visibility=30, banks=0))
UP = np.array([0.0, 1.0, 0.0])
NOTHING = RayScene(np.zeros((0, 3, 3), np.float32))


def along(
    medium: Medium, far: float, sunlit: SunlitAir = EVERYWHERE, way: tuple[float, ...] = (1, 0, 0), height: float = 1.0
):
    """What fog does along one way from above the origin."""
    return fogged(medium, np.array([[0, height, 0]]), np.array([way], float), np.array([far]), sunlit)


def walled(edge: float) -> SunlitAir:
    """Air of 40 m by 20 m by 40 m that has sun where x is beyond an edge."""
    x = -20 + (np.arange(400) + 0.5) * 0.1
    lit = np.broadcast_to((x > edge)[:, None, None], (400, 200, 4)).astype(np.float32)
    return SunlitAir(lit, np.array([-20.0, -5, -0.2]), 0.1)


class FoggedTests(unittest.TestCase):
    def test_even_fog_is_as_deep_as_in_closed_form(self) -> None:
        draw = np.random.default_rng(3)
        ways = draw.normal(size=(200, 3))
        ways /= np.linalg.norm(ways, axis=1)[:, None]
        eyes, far = draw.uniform(-3, 6, (200, 3)), np.append(draw.uniform(1, 200, 199), np.inf)
        for air in (Air(fog="deep", banks=0), Air(fog="low", fog_top=1, fog_fade=2, banks=0)):
            medium = Medium.of(air)
            found = fogged(medium, eyes, ways, far)
            np.testing.assert_allclose(found.depth, medium.held_up(eyes, ways, far)[1], rtol=0.02, atol=0.01)
            np.testing.assert_allclose(found.lit, 1)
        clear = fogged(Medium.of(Air()), eyes, ways, far)
        self.assertEqual((clear.depth.max(), clear.lit.min()), (0, 1))

    def test_banks_are_as_thick_as_even_fog_on_the_mean_and_drift(self) -> None:
        medium = Medium.of(Air(fog="deep", fog_visibility=200, banks=80, bank_size=10))
        turn = np.linspace(0, 2 * np.pi, 2000, endpoint=False)
        ways = np.column_stack([np.cos(turn), 0 * turn, np.sin(turn)])
        eyes, far = np.column_stack([turn * 30, 0 * turn + 1, turn * 17]), np.full(2000, 60.0)
        found = fogged(medium, eyes, ways, far)
        self.assertAlmostEqual(found.depth.mean() / medium.held_up(eyes, ways, far)[1].mean(), 1, delta=0.03)
        self.assertGreater(found.depth.std(), 0.05 * found.depth.mean())
        moved = fogged(medium, eyes + np.array([7, 0, -4]), ways, far, drift=(7.0, -4.0))
        np.testing.assert_allclose(moved.depth, found.depth, rtol=1e-6)

    def test_shade_counts_by_how_much_of_it_is_seen_through_the_fog(self) -> None:
        k = DEEP.fog
        for far, edge in ((10.0, 5.0), (10.0, 1.0), (19.0, 8.0)):
            expected = (np.exp(-k * edge) - np.exp(-k * far)) / (1 - np.exp(-k * far))
            self.assertAlmostEqual(float(along(DEEP, far, walled(edge)).lit[0]), expected, delta=0.02)
        self.assertAlmostEqual(float(along(DEEP, 10, walled(30)).lit[0]), 0, delta=1e-3)
        # Outside of what is known nothing keeps the sun off.
        self.assertAlmostEqual(float(along(DEEP, 10, walled(30), (0, 0, 1)).lit[0]), 1, delta=0.06)

    def test_what_is_in_the_shade_sends_less_of_the_sun(self) -> None:
        sky = daylight(Light(height=20, clouds=0), 32, air=Air(fog="low", fog_visibility=40, banks=0))
        way = np.array([[1.0, 0, 0]])
        eye, far = np.array([[0.0, 1, 0]]), np.array([15.0])
        dark, lit = (
            sky.through(np.zeros((1, 3)), eye, way, far, fogged(sky.medium, eye, way, far, one))
            for one in (walled(99), EVERYWHERE)
        )
        np.testing.assert_allclose(lit, sky.through(np.zeros((1, 3)), eye, way, far), rtol=0.02)
        self.assertLess(dark.sum(), lit.sum())


class SunlitTests(unittest.TestCase):
    def test_a_roof_keeps_the_sun_off_the_air_that_lies_behind_it(self) -> None:
        site = scene(ground=square(20), roof=square(4, 3))
        for towards in (UP, np.array([1, 1, 0]) / np.sqrt(2)):
            air = sunlit(site, NOTHING, towards)
            middles = [air.low[k] + (np.arange(air.lit.shape[k]) + 0.5) * air.cell for k in range(3)]
            x, y, z = np.meshgrid(*middles, indexing="ij")
            passes = x + (3 - y) / towards[1] * towards[0]
            behind = (y < 3) & (np.abs(passes) < 2) & (np.abs(z) < 2)
            self.assertGreater(behind.sum(), 1000)
            # Rays along an edge may go either way.
            told = np.abs(np.abs(passes) - 2) > 0.01
            self.assertEqual(np.abs(air.lit - ~behind)[told].sum(), 0)

    def test_what_grows_high_keeps_the_sun_off_and_grass_does_not(self) -> None:
        def dark(item: str) -> float:
            layer = Scatter(
                id="one",
                density=0,
                mix=(MixItem(item=item),),
                planted=(Planted(id="x", item=item, position=(0, 0, 0)),),
            )
            graph = graph_of(small_site(structures=(), weather=(), planting=(layer,)))
            air: SunlitAir = graph.get(Sunlit((0.0, 1.0, 0.0)))
            return float((1 - air.lit[:, -6:]).sum())

        self.assertGreater(dark("birch"), 0)
        self.assertEqual(dark("grass_tuft"), 0)


if __name__ == "__main__":
    unittest.main()
