"""Grass: blades by the thousand, whose places, shapes and edges are known."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import card, graph_of, small_site, square, where
from shapes import scene as scene_of

from cenote.derive.grass import MOST, LyingGrass, sown
from cenote.derive.site import Site
from cenote.grass.blades import Blades, Square, candidates, lay
from cenote.grass.layer import Grass
from cenote.grass.presets import PRESETS
from cenote.grass.shapes import KINDS, LEANS, POINTS, TRODDEN, blade_shapes, shape_row
from cenote.grass.strands import FEW_POINTS, ribbons, standing_for_all
from cenote.scatter.clear import ClearOfObjects
from cenote.scatter.fill import Filling
from cenote.scatter.spots import FillSurface
from cenote.scatter.wind import Sway, Wind
from cenote.signals.height import Height
from cenote.signals.noise import Noise
from cenote.site.document import SiteDocument
from cenote.site.ground import Ground

SIDE = 2.0


def surface(side: float = SIDE) -> FillSurface:
    corners = square(side)
    return FillSurface(corners, np.tile(np.array([0, 1, 0], np.float32), (2, 3, 1)))


def grown(layer: Grass, at: Square = Square(-1, -1, SIDE), **objects: np.ndarray) -> Blades:  # noqa: B008
    ground = surface()
    return lay(layer, ground, at, Filling([ground], scene_of(ground=square(SIDE), **objects)), layer.density)


class ShapeTests(unittest.TestCase):
    def test_a_blade_is_as_long_as_it_is_declared_however_it_is_bent(self) -> None:
        curves = blade_shapes(Grass(id="g", bend=120, kinked=50)).astype(float)
        self.assertEqual(curves.shape, (2 * KINDS * LEANS, POINTS, 3))
        along = np.linalg.norm(np.diff(curves[..., :2], axis=1), axis=2).sum(1)
        # Its points lie on a curve of length 1; the lines between them are a little shorter.
        self.assertLess(along.max(), 1.0001)
        self.assertGreater(along.min(), 0.9)

    def test_it_leans_more_from_row_to_row_and_narrows_to_its_tip_unless_it_is_cut(self) -> None:
        curves = blade_shapes(Grass(id="g", bend=80))
        self.assertTrue((np.diff(curves[:LEANS, -1, 0]) > 0).all())
        self.assertTrue((np.diff(curves[0, :, 2]) < 0).all())
        whole, cut = curves[0, -1, 2], curves[KINDS * LEANS, -1, 2]
        self.assertGreater(cut, 4 * whole)
        lying = curves[TRODDEN * LEANS : (TRODDEN + 1) * LEANS, -1, 1]
        self.assertLess(lying.max(), 0.65)

    def test_rows_are_found_by_kind_lean_and_cut(self) -> None:
        rows = shape_row(np.array([0, 2, 1]), np.array([0.0, 0.999, 0.5]), np.array([False, False, True]))
        self.assertEqual(rows.tolist(), [0, 2 * LEANS + LEANS - 1, KINDS * LEANS + LEANS + LEANS // 2])


class BladeTests(unittest.TestCase):
    def test_more_density_only_adds(self) -> None:
        few = candidates(Grass(id="g"), "ground", Square(0, 0, 4), 300)
        many = candidates(Grass(id="g"), "ground", Square(0, 0, 4), 1234)
        self.assertAlmostEqual(len(many[0]) / 16, 1234, delta=12)
        places = dict(zip(many[1].tolist(), many[0].tolist(), strict=True))
        self.assertTrue(all(places[id] == place for id, place in zip(few[1].tolist(), few[0].tolist(), strict=True)))

    def test_squares_of_the_plan_make_no_difference(self) -> None:
        layer = Grass(id="g", density=400)
        whole = candidates(layer, "ground", Square(0, 0, 4), 400)[1]
        parts = [candidates(layer, "ground", Square(x, z, 2), 400)[1] for x in (0, 2) for z in (0, 2)]
        self.assertEqual(sorted(whole.tolist()), sorted(np.concatenate(parts).tolist()))
        self.assertEqual(len(set(whole.tolist())), len(whole))

    def test_those_of_low_rank_stand_as_evenly_as_all(self) -> None:
        places, _, ranks = candidates(Grass(id="g"), "ground", Square(0, 0, 4), 2000)
        for share in (0.1, 0.3):
            some = places[ranks < share]
            self.assertAlmostEqual(len(some) / len(places), share, delta=0.02)
            counts = np.histogram2d(some[:, 0], some[:, 1], bins=16, range=[[0, 4], [0, 4]])[0]
            # By chance the variance of a count is its mean.
            self.assertLess(counts.var(), 0.5 * counts.mean())

    def test_what_is_mown_ends_at_the_height_that_it_is_cut_at(self) -> None:
        layer = Grass(id="g", height=(0.06, 0.2), mown=True, cut_at=0.05)
        blades = grown(layer)
        tips = blade_shapes(layer)[blades.shapes, -1, 1] * blades.lengths
        self.assertLess(tips.max(), 0.0501)
        self.assertGreater((tips > 0.045).mean(), 0.5)

    def test_no_blade_reaches_into_what_is_kept_clear_of(self) -> None:
        wall = square(0.6)[:, :, [0, 2, 1]] * [1, 1, 0] + [0, 0.3, 0.2]
        clear = ClearOfObjects(id="c", distance=0.02, fade=0)
        layer = Grass(id="g", density=900, keep_clear=(clear,))
        blades, free = grown(layer, wall=wall.astype(np.float32)), grown(layer.model_copy(update={"keep_clear": ()}))
        tips = (
            blades.positions[:, 2] + np.cos(blades.turns) * blade_shapes(layer)[blades.shapes, -1, 0] * blades.lengths
        )
        beside = np.abs(blades.positions[:, 0]) < 0.29
        self.assertGreater(np.abs(tips[beside] - 0.2).min(), 0.0199)
        self.assertGreater(np.abs(blades.positions[beside, 2] - 0.2).min(), 0.0199)
        self.assertLess(len(blades), len(free))
        # Far from it nothing has changed.
        self.assertEqual(
            set(map(tuple, blades.positions[blades.positions[:, 2] < -0.4].tolist())),
            set(map(tuple, free.positions[free.positions[:, 2] < -0.4].tolist())),
        )

    def test_where_it_is_trodden_it_is_short_flat_and_worn(self) -> None:
        east = card("east", Noise(size=0.5, seed=3), 0.5, 0.5001)
        layer = Grass(id="g", density=1200, tall_where=where(east), uneven=0, flattened=100)
        blades = grown(layer)
        flat = np.asarray(blades.shapes) // LEANS % KINDS == TRODDEN
        self.assertTrue(0.2 < flat.mean() < 0.45)
        self.assertLess(blades.lengths[flat].mean(), 0.6 * blades.lengths[~flat].mean())
        self.assertLess(len(blades), 0.9 * 1200 * SIDE**2)

    def test_clumps_share_their_lean(self) -> None:
        def alike(clumps: float) -> float:
            blades = grown(Grass(id="g", density=600, clumps=clumps, clump_size=0.3))
            ways = np.column_stack([np.sin(blades.turns), np.cos(blades.turns)])
            near = np.argsort(
                ((blades.positions[:, None, [0, 2]] - blades.positions[None, :300, [0, 2]]) ** 2).sum(2), 0
            )[1]
            return float((ways[near] * ways[:300]).sum(1).mean())

        self.assertLess(abs(alike(0)), 0.15)
        self.assertGreater(alike(100), 0.45)


class StrandTests(unittest.TestCase):
    def setUp(self) -> None:
        self.layer = Grass(id="g", density=500)
        self.blades = grown(self.layer)

    def test_a_blade_is_a_ribbon_about_its_curve(self) -> None:
        made = ribbons(self.layer, self.blades, np.ones(3))
        count = len(self.blades)
        self.assertEqual(made.positions.shape, (count * 2 * POINTS, 3))
        self.assertEqual(made.faces.shape, (count * 2 * (POINTS - 1), 3))
        self.assertEqual(int(made.faces.max()), len(made.positions) - 1)
        pairs = made.positions.reshape(count, POINTS, 2, 3)
        widths = np.linalg.norm(pairs[:, 0, 0] - pairs[:, 0, 1], axis=1)
        np.testing.assert_allclose(widths, self.layer.root_width, rtol=1e-3)
        np.testing.assert_allclose(pairs[:, 0].mean(1), self.blades.positions, atol=1e-6)
        np.testing.assert_allclose(np.linalg.norm(made.normals, axis=1), 1, atol=1e-5)
        few = ribbons(self.layer, self.blades, np.ones(3), points=FEW_POINTS)
        np.testing.assert_array_equal(few.positions.reshape(count, 3, 2, 3), pairs[:, FEW_POINTS])

    def test_season_colours_what_lives_and_wind_bends_it_downwind(self) -> None:
        plain, autumn = (ribbons(self.layer, self.blades, np.array(season)) for season in ([1, 1, 1], [1.5, 1.1, 0.8]))
        alive = np.repeat(~self.blades.dead, 2 * POINTS)
        np.testing.assert_allclose(autumn.colours[alive][:, 0], plain.colours[alive][:, 0] * 1.5, rtol=1e-4)
        blown = ribbons(self.layer, self.blades, np.ones(3), sway=Sway(Wind(strength=8, bearing=90, gusts=0), 8.0, 1.0))
        moved = (blown.positions - plain.positions).reshape(-1, POINTS, 2, 3).mean((0, 2))
        self.assertLess(np.abs(moved[0]).max(), 1e-6)
        self.assertGreater(np.linalg.norm(moved[-1, [0, 2]]), 0.005)

    def test_far_ones_stand_for_all_as_much_wider(self) -> None:
        left, wide = standing_for_all(self.blades, np.array([[0, 1, 40.0]]), 10)
        self.assertAlmostEqual(left.mean(), 0.25, delta=0.03)
        self.assertAlmostEqual(float((left * wide).mean()), 1, delta=0.1)
        self.assertTrue(standing_for_all(self.blades, np.zeros((1, 3)), 10)[0].all())


class GrassOfSitesTests(unittest.TestCase):
    def test_presets_grow_and_keep_off_what_stands_there(self) -> None:
        for preset in PRESETS:
            layer = preset.layer("grass").model_copy(update={"surfaces": ("ground",), "density": 60.0})
            graph = graph_of(small_site(grass=(layer,)))
            laid = graph.get(LyingGrass("grass", "ground"))
            self.assertGreater(len(laid.blades), 2000, preset.kind)
            self.assertEqual(laid.first[-1], len(laid.blades))
            for from_, to in zip(laid.first[:-1], laid.first[1:], strict=True):
                self.assertTrue((np.diff(laid.blades.ranks[from_:to]) >= 0).all())

    def test_where_there_would_be_too_many_there_are_fewer_and_wider_ones(self) -> None:
        layer = Grass(id="grass", density=800)
        wide_site = SiteDocument(ground=Ground(size=(90, 90), spacing=2), grass=(layer,))
        how = sown(Site(graph_of(wide_site)), "grass", "ground")
        self.assertLess(how.expected, MOST * 1.01)
        self.assertGreater(how.expected, MOST * 0.75)
        self.assertAlmostEqual(how.wide * how.density, 800, delta=1)
        # Where a mask leaves little of it, that is as dense as it is declared.
        low = layer.model_copy(update={"where": where(card("h", Height(), 50, 60))})
        self.assertEqual(
            sown(Site(graph_of(wide_site.model_copy(update={"grass": (low,)}))), "grass", "ground").density, 800
        )


if __name__ == "__main__":
    unittest.main()
