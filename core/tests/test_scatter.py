"""Scatter: spacing, stability under change, rules, and the tables of what is placed."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError
from scipy.spatial import cKDTree
from shapes import card, changed, graph_of, placed_by, scene, small_site, square, where

from cenote.geometry.build import box
from cenote.geometry.mesh import corner_normals, placement_matrix
from cenote.kit.shelf import SHIPPED
from cenote.randomness import key_of
from cenote.scatter.climbing import onto_walls
from cenote.scatter.instances import by_variant, merged_triangles, placed_vertices, triangle_count
from cenote.scatter.layer import MixItem, Scatter
from cenote.scatter.placements import Placements
from cenote.scatter.spacing import arrivals_for, greatest_density, spaced_points
from cenote.scatter.spots import FillSurface, spots_of
from cenote.scatter.whole import fill
from cenote.scatter.wind import Sway, Wind
from cenote.signals.distance import Distance
from cenote.signals.noise import Noise
from cenote.signals.scene import MeasuredScene, SceneObject
from cenote.signals.slope import Slope
from cenote.site.document import Made, SiteDocument, Structure
from cenote.site.ground import Ground
from cenote.structures.wall import Wall

KEY = key_of("test")


def adsorption_curve(arrived: np.ndarray, side: float = 150.0) -> np.ndarray:
    """Kept points against arrived candidates, both times the squared minimum distance: the table in spacing.py."""
    kept = []
    for share in arrived:
        # One candidate per m² and unit of time; the wanted density is inverted to just that many arrivals.
        density = np.interp(share, *_table())
        kept.append(len(spaced_points((0, 0), (side, side), density, 1.0, KEY).ids) / side**2)
    return np.array(kept)


def _table() -> tuple[np.ndarray, np.ndarray]:
    from cenote.scatter import spacing

    return spacing._ARRIVED, spacing._KEPT


def nearest(places: np.ndarray) -> float:
    """The least distance between any two of the points."""
    return float(cKDTree(places).query(places, k=2)[0][:, 1].min())


class SpacingTests(unittest.TestCase):
    def test_no_two_points_are_nearer_than_the_spacing(self) -> None:
        for density, spacing in ((0.5, 1.0), (3, 0.4), (50, 0.1), (200, 0.05)):
            points = spaced_points((-5, -5), (7, 6), density, spacing, KEY)
            self.assertGreaterEqual(nearest(points.places), spacing)

    def test_density_is_met_where_the_spacing_allows_it(self) -> None:
        for density, spacing in ((2, 0), (2, 0.3), (5, 0.25), (0.05, 2)):
            points = spaced_points((0, 0), (100, 100), density, spacing, KEY)
            self.assertAlmostEqual(len(points.ids) / 1e4 / density, 1, delta=0.05)

    def test_beyond_what_the_spacing_allows_the_greatest_is_placed(self) -> None:
        points = spaced_points((0, 0), (50, 50), 1000, 0.5, KEY)
        self.assertAlmostEqual(len(points.ids) / 2500 / greatest_density(0.5), 1, delta=0.03)

    def test_the_table_is_the_curve_of_random_sequential_adsorption(self) -> None:
        arrived, kept = _table()
        some = slice(1, 14, 3)
        np.testing.assert_allclose(adsorption_curve(arrived[some]), kept[some], rtol=0.04)
        self.assertLess(kept[-1], 0.6965)
        self.assertEqual(arrivals_for(3, 0), 3)
        self.assertEqual(arrivals_for(0, 1), 0)

    def test_more_density_only_adds(self) -> None:
        before = spaced_points((0, 0), (30, 30), 1, 0.35, KEY)
        for density in (1.2, 2, 3.5):
            after = spaced_points((0, 0), (30, 30), density, 0.35, KEY)
            np.testing.assert_array_equal(after.ids[: len(before.ids)], before.ids)
            np.testing.assert_array_equal(after.places[: len(before.ids)], before.places)
            before = after

    def test_points_spread_evenly(self) -> None:
        # Fewer near pairs than at random, and as many in each quarter.
        places = spaced_points((0, 0), (40, 40), 2, 0.4, KEY).places
        quarters = np.histogram2d(*places.T, bins=2, range=[[0, 40], [0, 40]])[0] / len(places)
        np.testing.assert_allclose(quarters, 0.25, atol=0.02)


class EvennessTests(unittest.TestCase):
    def counts(self, density: float, evenness: float, spacing: float = 0.2) -> float:
        """Variance over mean of how many points lie in squares that hold eight on average."""
        side = np.sqrt(8 / density)
        squares = 24
        points = spaced_points((0, 0), (squares * side,) * 2, density, spacing, KEY, evenness=evenness)
        found = np.histogram2d(*points.places.T, bins=squares, range=[[0, squares * side]] * 2)[0]
        return float(found.var() / found.mean())

    def test_it_goes_from_chance_to_even_at_every_density(self) -> None:
        for density in (0.3, 2, 6):
            seen = [self.counts(density, evenness, 0.0) for evenness in (0, 0.3, 0.6, 1)]
            self.assertAlmostEqual(seen[0], 1, delta=0.2)
            self.assertTrue(seen[0] > seen[1] > seen[2] > seen[3], (density, seen))
            self.assertLess(seen[2], 0.42)
            self.assertLess(seen[3], 0.3)

    def test_at_usual_settings_nobody_sees_clumps(self) -> None:
        usual = Scatter(id="usual")
        self.assertLess(self.counts(usual.density, usual.evenness / 100, usual.spacing), 0.42)

    def test_density_is_met_whatever_the_evenness(self) -> None:
        for density, spacing in ((2, 0.2), (0.3, 0), (12, 0.2), (0.02, 4), (0.1, 0)):
            for evenness in (0.3, 0.6, 1):
                points = spaced_points((0, 0), (120, 120), density, spacing, KEY, evenness=evenness)
                with self.subTest(density=density, spacing=spacing, evenness=evenness):
                    self.assertAlmostEqual(len(points.ids) / 120**2 / density, 1, delta=0.05 if density > 0.2 else 0.09)

    def test_more_density_only_adds_to_an_even_spread(self) -> None:
        before = spaced_points((0, 0), (30, 30), 0.5, 0.1, KEY, evenness=0.7)
        for density in (1, 3, 9):
            after = spaced_points((0, 0), (30, 30), density, 0.1, KEY, evenness=0.7)
            np.testing.assert_array_equal(after.ids[: len(before.ids)], before.ids)
            before = after

    def test_on_all_sides_it_is_the_same_pattern(self) -> None:
        square_ = np.array([[[0, 0, 0], [0, 0, 30], [30, 0, 30]], [[0, 0, 0], [30, 0, 30], [30, 0, 0]]], np.float32)
        up = np.broadcast_to(np.array([0, 1, 0], np.float32), square_.shape)
        flat = FillSurface(square_, up)
        for evenness, low, high in ((0, 0.75, 1.3), (100, 0.1, 0.35)):
            layer = Scatter(id="wall", density=2, spacing=0, evenness=evenness, sides="all sides")
            spots = spots_of(layer, [flat])
            self.assertAlmostEqual(len(spots) / 900, 2, delta=0.15)
            found = np.histogram2d(*spots.positions[:, [0, 2]].T, bins=15, range=[[0, 30]] * 2)[0]
            self.assertTrue(low < found.var() / found.mean() < high, found.var() / found.mean())

    def test_layers_of_older_sites_stay_as_they_were(self) -> None:
        kept = Scatter(id="old").model_dump()
        self.assertEqual(Scatter.model_validate(kept).evenness, 60)
        kept.pop("evenness")
        self.assertEqual(Scatter.model_validate(kept).evenness, 0)


class FillTests(unittest.TestCase):
    def setUp(self) -> None:
        mesh = Ground(size=(40, 30), relief=6, swell=9).build()
        self.surface = FillSurface(mesh.corners, corner_normals(mesh))
        self.hut = box((-3, -5, -2), (3, 4, 2)).corners
        self.scene = scene(ground=mesh.corners, hut=self.hut)

    def placed(self, **values) -> Placements:
        given = {
            "id": "test",
            "density": 4,
            "spacing": 0.2,
            "mix": (MixItem(item="grass_tuft", share=3), MixItem(item="stone")),
        }
        return fill(Scatter(**(given | values)), self.surface, self.scene)

    def test_same_seed_same_result_and_another_seed_another(self) -> None:
        a, b = self.placed(), self.placed()
        np.testing.assert_array_equal(a.positions, b.positions)
        np.testing.assert_array_equal(a.rotations, b.rotations)
        self.assertFalse(set(a.ids) & set(self.placed(seed=2).ids))
        self.assertFalse(set(a.ids) & set(self.placed(id="other").ids))

    def test_more_density_only_adds(self) -> None:
        few, many = self.placed(density=2), self.placed(density=5)
        self.assertLessEqual(set(few.ids), set(many.ids))
        rows = {id: row for row, id in enumerate(many.ids)}
        same = [rows[id] for id in few.ids]
        for name in ("positions", "rotations", "sizes", "items", "variants"):
            np.testing.assert_array_equal(getattr(many, name)[same], getattr(few, name))

    def test_a_stricter_rule_only_removes(self) -> None:
        free = self.placed()
        chains = [
            where(card("slope", Slope(), 40, 20)),
            where(card("slope", Slope(), 30, 15)),
            where(card("slope", Slope(), 30, 15), card("noise", Noise(), 0.3, 0.6)),
            where(card("slope", Slope(), 30, 15), card("noise", Noise(), 0.3, 0.6), card("far", Distance(), 1, 3)),
        ]
        before = free
        for rules in chains:
            after = self.placed(where=rules)
            self.assertLess(len(after), len(before))
            self.assertLessEqual(set(after.ids), set(before.ids))
            before = after

    def test_rules_hold_for_every_item(self) -> None:
        rules = where(
            card("slope", Slope(), 25, 25, soft=False, inverted=True), card("far", Distance(objects=("hut",)), 1.5, 1.5)
        )
        placed = self.placed(where=rules, mix=(MixItem(item="stone", sink=(0, 0)),))
        self.assertGreater(len(placed), 500)
        from shapes import samples

        away = Distance(objects=("hut",)).measure(samples(placed.positions), self.scene)
        self.assertGreaterEqual(away.min(), 1.5 - 1e-4)
        _, _, _, _, normals = self.surface.drop(placed.positions[:, [0, 2]].astype(float))
        self.assertLess(np.degrees(np.arccos(normals[:, 1])).max(), 25.01)

    def test_nothing_stands_inside_a_building(self) -> None:
        placed = self.placed(density=8)
        inside = (np.abs(placed.positions[:, 0]) < 2.99) & (np.abs(placed.positions[:, 2]) < 1.99)
        self.assertFalse(inside.any())

    def test_items_stand_on_the_ground_and_sink_as_told(self) -> None:
        flat = FillSurface(square(20), corner_normals(Ground(size=(4, 4), relief=0).build())[:2])
        mix = (MixItem(item="stone", sink=(0.1, 0.3)),)
        placed = fill(Scatter(id="a", density=5, spacing=0, mix=mix), flat, scene(ground=square(20)))
        heights = placed.positions[:, 1]
        self.assertTrue((heights <= -0.1 + 1e-5).all() and (heights >= -0.3 - 1e-5).all())
        self.assertAlmostEqual(heights.mean(), -0.2, delta=0.01)

    def test_shares_sizes_and_turns_follow_the_mix(self) -> None:
        mix = (
            MixItem(item="grass_tuft", share=3, size=(1, 2)),
            MixItem(item="stone", share=1, size=(0.5, 0.5), turn=0, lean=0),
        )
        placed = self.placed(mix=mix, density=6)
        share = (placed.items == 0).mean()
        self.assertAlmostEqual(share, 0.75, delta=0.02)
        grass, stones = placed.only(placed.items == 0), placed.only(placed.items == 1)
        self.assertTrue((grass.sizes >= 1).all() and (grass.sizes <= 2).all())
        self.assertAlmostEqual(grass.sizes.mean(), 1.5, delta=0.03)
        np.testing.assert_allclose(stones.sizes, 0.5)
        np.testing.assert_allclose(np.abs(stones.rotations @ [0, 0, 0, 1]), 1, atol=1e-6)
        np.testing.assert_allclose(np.linalg.norm(placed.rotations, axis=1), 1, atol=1e-5)

    def test_no_share_at_all_places_nothing(self) -> None:
        self.assertEqual(len(self.placed(mix=(MixItem(item="stone", share=0),))), 0)

    def test_leaning_in_full_follows_the_ground(self) -> None:
        placed = self.placed(mix=(MixItem(item="stone", lean=100, sink=(0, 0)),))
        from cenote.scatter.rotations import rotation_matrices

        up = rotation_matrices(placed.rotations)[:, :, 1]
        _, _, _, _, normals = self.surface.drop(placed.positions[:, [0, 2]].astype(float))
        self.assertGreater((up * normals).sum(1).min(), 0.995)


class DeclarationTests(unittest.TestCase):
    def test_what_cannot_be_placed_is_refused(self) -> None:
        for values, words in (
            ({"item": "stone", "size": (2, 1)}, "the least"),
            ({"item": "stone", "lean": 101}, "less than or equal to 100"),
        ):
            with self.assertRaisesRegex(ValidationError, words):
                MixItem(**values)
        palms = Scatter(id="a", name="Palms", mix=(MixItem(item="palm"),))
        with self.assertRaisesRegex(ValidationError, "planting/0/mix/0/item: there is no kit item called 'palm'"):
            SiteDocument(planting=(palms,))
        with self.assertRaises(ValidationError):
            Scatter(id="a", density=-1)
        with self.assertRaises(ValidationError):
            Scatter(id="a", mix=())


class White:
    """Items without any looks, in still air."""

    mesh = staticmethod(SHIPPED.mesh)

    @staticmethod
    def colours(kind: str, variant: int, detail: int = 0) -> np.ndarray:
        return np.ones((len(SHIPPED.mesh(kind, variant, detail).faces), 3), np.float32)

    @staticmethod
    def sway(kind: str) -> Sway:
        return Sway(Wind(), SHIPPED.stiffness(kind), 1.0)


class InstanceTests(unittest.TestCase):
    def setUp(self) -> None:
        mesh = Ground(size=(12, 12)).build()
        self.layer = Scatter(id="a", density=3, mix=(MixItem(item="stone"), MixItem(item="fern")))
        self.placed = fill(self.layer, FillSurface(mesh.corners, corner_normals(mesh)), scene(ground=mesh.corners))

    def test_every_row_comes_once(self) -> None:
        rows = np.concatenate([rows for _, _, rows in by_variant(self.placed)])
        np.testing.assert_array_equal(np.sort(rows), np.arange(len(self.placed)))

    def test_counts_and_merged_triangles_agree(self) -> None:
        total = triangle_count(self.placed, White)
        corners, colours = merged_triangles([self.placed], 10**9, White)
        self.assertEqual(len(corners), total)
        self.assertEqual(len(colours), total)
        thinned, _ = merged_triangles([self.placed], total // 4, White)
        self.assertLess(len(thinned), total / 3)

    def test_a_placed_mesh_has_its_size_and_place(self) -> None:
        item, variant, rows = next(iter(by_variant(self.placed)))
        mesh = SHIPPED.mesh(item, variant)
        placed = placed_vertices(mesh, self.placed, rows[:1])[0]
        spread = np.linalg.norm(placed - placed.mean(0), axis=1)
        plain = np.linalg.norm(mesh.positions - mesh.positions.mean(0), axis=1)
        np.testing.assert_allclose(spread, plain * self.placed.sizes[rows[0]], rtol=1e-4, atol=1e-5)


class ClimbingTests(unittest.TestCase):
    def test_climbers_stand_at_the_foot_of_the_nearest_wall_with_their_backs_to_it(self) -> None:
        wall = box((-3, -0.3, -0.2), (3, 3, 0)).corners
        around = MeasuredScene({"wall": SceneObject(wall, "wall")})
        points = np.array([[0, 0, 0.6], [1, 0.1, -0.9], [0, 0, 2.5], [4.6, 0, -0.1]], float)
        found = onto_walls(around, points, np.ones(4))
        self.assertEqual(found.found.tolist(), [True, True, False, False])
        np.testing.assert_allclose(found.positions[:2], [[0, 0, 0], [1, 0.1, -0.2]], atol=1e-4)
        np.testing.assert_allclose(np.cos(found.turns[:2]), [1, -1], atol=1e-5)
        np.testing.assert_allclose(found.sizes[:2], 1)

    def test_they_grow_no_higher_than_the_wall(self) -> None:
        low = MeasuredScene({"wall": SceneObject(box((-3, -0.3, -0.2), (3, 1, 0)).corners, "wall")})
        self.assertAlmostEqual(onto_walls(low, np.array([[0, 0, 0.5]]), np.ones(1)).sizes[0], 0.62)
        # A bank is no wall.
        bank = MeasuredScene({"bank": SceneObject(box((-3, -0.3, -0.2), (3, 1, 0)).moved(
            placement_matrix((0, 0, 0), 0, tip_degrees=-50)).corners, "bank")})  # fmt: skip
        self.assertFalse(onto_walls(bank, np.array([[0, 0, 0.3]]), np.ones(1)).found[0])

    def test_a_scatter_of_ivy_covers_a_wall_and_nothing_else(self) -> None:
        wall = Structure(id="wall", source=Made(maker=Wall(length=6, height=2.4, piers=0, ruin=0)))
        layer = Scatter(id="ivy", density=6, spacing=0.2, mix=(MixItem(item="ivy", lean=0),))
        shop = graph_of(small_site(structures=(wall,), planting=(layer,), weather=()))
        placed = placed_by(shop, layer)
        self.assertGreater(len(placed), 8)
        self.assertTrue((np.abs(np.abs(placed.positions[:, 2]) - 0.16) < 0.02).all() or
                        (np.abs(placed.positions[:, 0]) > 2.9).any())  # fmt: skip
        more = placed_by(changed(shop, planting=(layer.model_copy(update={"density": 9.0}),)), layer)
        self.assertLessEqual(set(placed.ids.tolist()), set(more.ids.tolist()))
        alone = graph_of(small_site(structures=(), planting=(layer,), weather=()))
        self.assertEqual(len(placed_by(alone, layer)), 0)
