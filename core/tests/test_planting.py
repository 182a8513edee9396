"""Layers as artists build them: clumps, keeping clear, sowing, rows, changes by hand; and that they stay stable."""

from __future__ import annotations

import unittest
from itertools import pairwise
from unittest.mock import patch

import numpy as np
from planted import FLAT, GRASS, GROUND, STONE, TREE, placed, same, surface
from pydantic import ValidationError
from scipy.spatial import cKDTree
from shapes import card, changed, graph_of, placed_by, samples, scene, small_site, square, where

from cenote.derive.planting import LayerPlacements, PlantedBodies, Plot
from cenote.derive.scene import WholeScene
from cenote.derive.why import scene_for
from cenote.geometry.build import box
from cenote.geometry.mesh import corner_normals
from cenote.kit.shelf import SHIPPED
from cenote.scatter.clear import ClearOfObjects, ClearOfPlanting, ClearOfShot, ClearOfZones, to_outlines
from cenote.scatter.fill import Filling, bodies_of, extents, fill_spots
from cenote.scatter.hand import id_text, with_hand
from cenote.scatter.layer import Match, MixItem, Planted, Row, Scatter, SowStroke
from cenote.scatter.placements import BY_HAND, BY_RULE, IN_ROW, Placements
from cenote.scatter.rotations import rotation_matrices
from cenote.scatter.spacing import arrivals_on, kept_apart
from cenote.scatter.spots import FillSurface, spots_of
from cenote.scatter.tints import LUMINANCE, match_factor, suggested_match
from cenote.scatter.whole import fill, plots_of
from cenote.signals.distance import Distance
from cenote.signals.leaf_fall import LeafFall
from cenote.signals.noise import Noise
from cenote.signals.slope import Slope
from cenote.site.document import KitPiece, Made, Placement, Shot, SiteDocument, Structure, Zone
from cenote.site.ground import Ground
from cenote.structures.deck import Deck


class StableTests(unittest.TestCase):
    def test_tile_by_tile_in_any_order_is_the_whole(self) -> None:
        layer = Scatter(
            id="test", density=4, spacing=0.2, clumps=60, edge_size=50, mix=(GRASS, STONE, TREE),
            where=where(card("slope", Slope(), 30, 10), card("noise", Noise(), 0.3, 0.6)),
            keep_clear=(ClearOfObjects(id="hut"),),
            strokes=(SowStroke(radius=2, path=((0, 0, 0), (6, 0, 6))),),
        )  # fmt: skip
        around = scene(ground=GROUND.corners, hut=box((-3, -5, -2), (3, 4, 2)).corners)
        filling = Filling([surface()], around)
        spots = spots_of(layer, filling.surfaces)
        whole = fill_spots(layer, spots, filling)
        self.assertGreater(len(whole), 300)
        plots = plots_of(layer, spots, filling)
        self.assertTrue(same(whole, fill(layer, surface(), around)))
        self.assertGreater(len(plots), 8)
        self.assertTrue(same(whole, with_hand(layer, plots, filling)))
        self.assertTrue(same(whole, with_hand(layer, plots[::-1], filling)))

    def test_moving_an_object_redoes_only_the_tiles_it_touches(self) -> None:
        def site(x: float) -> SiteDocument:
            crate = Structure(id="crate", source=KitPiece(item="crate"), placement=Placement(position=(x, 0, 2)))
            layer = Scatter(id="grass", density=3, keep_clear=(ClearOfObjects(id="all"),))
            ground = Ground(size=(60, 60), relief=0)
            return SiteDocument(ground=ground, structures=(crate,), planting=(layer,))

        first = graph_of(site(2))
        before = placed_by(first, "grass")
        with patch.object(Plot, "make", side_effect=Plot.make) as filled:
            after = placed_by(graph_of(site(4), first.cache), "grass")
        self.assertIn(filled.call_count, range(1, 7))
        moved = set(before.ids.tolist()) ^ set(after.ids.tolist())
        self.assertTrue(moved)
        places = np.concatenate([t.positions[np.isin(t.ids, list(moved))] for t in (before, after)])
        self.assertLess(np.abs(places[:, 0] - 3).max(), 3)
        self.assertLess(np.abs(places[:, 2] - 2).max(), 2)

    def test_a_stricter_own_rule_swaps_only_its_own_kind(self) -> None:
        free = placed(mix=(GRASS, STONE))
        steep = MixItem(item="stone", where=where(card("steep", Slope(), 5, 15)))
        ruled = placed(mix=(GRASS, steep))
        self.assertEqual(set(free.ids.tolist()), set(ruled.ids.tolist()))
        kinds = dict(zip(ruled.ids.tolist(), ruled.items.tolist(), strict=True))
        for id, item in zip(free.ids.tolist(), free.items.tolist(), strict=True):
            if item == 0:
                self.assertEqual(kinds[id], 0)
        self.assertLess((ruled.items == 1).sum(), (free.items == 1).sum())


class WhereTests(unittest.TestCase):
    def test_clumps_gather_what_they_leave(self) -> None:
        even, clumped = placed(mix=(GRASS,)), placed(mix=(GRASS,), clumps=100, clump_size=4)
        self.assertTrue(np.isin(clumped.ids, even.ids).all())

        def unevenness(table: Placements) -> float:
            counts = np.histogram2d(table.positions[:, 0], table.positions[:, 2], bins=15)[0]
            return float(counts.std() / counts.mean())

        self.assertGreater(unevenness(clumped), 2 * unevenness(even))

    def test_sizes_follow_their_own_chain_and_the_faint_edge(self) -> None:
        size = where(card("slope", Slope(), 3, 3, soft=False))
        found = placed(mix=(MixItem(item="stone", size=(1, 1), sink=(0, 0)),), size_where=size, smallest=25)
        self.assertEqual(set(np.round(np.unique(found.sizes), 4).tolist()), {0.25, 1.0})
        noise = Noise(size=4)
        chain = where(card("noise", noise, 0.3, 0.7, soft=False))
        faint = placed(mix=(MixItem(item="stone", size=(1, 1), sink=(0, 0)),), where=chain, edge_size=50)
        mask = np.clip((noise.measure(samples(faint.positions), None) - 0.3) / 0.4, 0, 1)
        np.testing.assert_allclose(faint.sizes, 0.5 + 0.5 * mask, atol=0.01)

    def test_sowing_adds_where_rules_do_not_and_thinning_takes_away(self) -> None:
        nothing = where(card("slope", Slope(), 89, 90))
        self.assertEqual(len(placed(where=nothing)), 0)
        sown = placed(where=nothing, strokes=(SowStroke(radius=3, soft=0, path=((0, 0, 0),)),))
        whole = placed()
        near = np.hypot(whole.positions[:, 0], whole.positions[:, 2]) < 2.5
        self.assertTrue(np.isin(whole.ids[near], sown.ids).all())
        thinned = placed(strokes=(SowStroke(adds=False, radius=30, soft=0, strength=0.75, path=((0, 0, 0),)),))
        self.assertTrue(np.isin(thinned.ids, whole.ids).all())
        self.assertAlmostEqual(len(thinned) / len(whole), 0.25, delta=0.04)

    def test_a_stroke_may_sow_one_kind_alone(self) -> None:
        nothing = where(card("slope", Slope(), 89, 90))
        found = placed(where=nothing, strokes=(SowStroke(radius=5, path=((0, 0, 0),), items=(1,)),))
        self.assertGreater(len(found), 20)
        self.assertTrue((found.items == 1).all())
        with self.assertRaisesRegex(ValidationError, "strokes/0/items: the mix has 2 rows"):
            Scatter(id="a", mix=(GRASS, STONE), strokes=(SowStroke(path=((0, 0, 0),), items=(2,)),))

    def test_all_sides_of_a_box_are_filled_by_their_area(self) -> None:
        block = box((-2, 0, -1), (2, 3, 1))
        on = FillSurface(block.corners, corner_normals(block), "block")
        found = fill(
            Scatter(id="moss", density=20, spacing=0.1, sides="all sides", surfaces=("block",), mix=(STONE,)),
            on, scene(block=block.corners),
        )  # fmt: skip
        up = rotation_matrices(found.rotations)[:, :, 1]
        areas = {(1, 1): 8, (1, -1): 8, (0, 1): 6, (0, -1): 6, (2, 1): 12, (2, -1): 12}
        for (axis, sign), area in areas.items():
            there = up[:, axis] * sign > 0.9
            self.assertAlmostEqual(there.sum() / len(found) / (area / 52), 1, delta=0.2)
        self.assertGreaterEqual(cKDTree(found.positions).query(found.positions, k=2)[0][:, 1].min(), 0.1 - 0.03)

    def test_points_on_triangles_are_even_and_only_added_to(self) -> None:
        areas = np.array([1.0, 3.0, 0.0, 0.5])
        few, many = (arrivals_on(areas, density, 0, np.uint64(7)) for density in (50, 400))
        self.assertTrue(np.isin(few.ids, many.ids).all())
        np.testing.assert_allclose(np.bincount(many.faces, minlength=4) / 400, areas, atol=0.25)
        np.testing.assert_allclose(many.weights.sum(1), 1)
        np.testing.assert_allclose(many.weights.mean(0), 1 / 3, atol=0.02)
        self.assertTrue((np.diff(many.times) >= 0).all())
        line = np.column_stack([np.arange(6) * 0.4, np.zeros(6), np.zeros(6)])
        self.assertEqual(kept_apart(line, np.full(len(line), 0.5)).tolist(), [True, False, True, False, True, False])


class ClearTests(unittest.TestCase):
    def test_gaps_between_deck_boards_stay_clean_to_the_centimetre(self) -> None:
        deck = Structure(id="deck", source=Made(maker=Deck()), placement=Placement(position=(0, 0.02, 0)))
        layer = Scatter(
            id="grass", density=40, spacing=0.03, mix=(MixItem(item="grass_tuft", sink=(0, 0)),),
            keep_clear=(ClearOfObjects(id="deck", objects=("deck",), distance=0.01, fade=0),),
        )  # fmt: skip
        ground = Ground(size=(7, 7), relief=0)
        shop = graph_of(SiteDocument(ground=ground, structures=(deck,), planting=(layer,)))
        found = placed_by(shop, layer)
        self.assertGreater(len(found), 300)
        bare = placed_by(changed(shop, planting=(layer.model_copy(update={"keep_clear": ()}),)), layer)
        self.assertGreater(len(bare), len(found))
        bodies = bodies_of(found, SHIPPED)
        reach = shop.get(WholeScene()).objects["deck"].nearest
        for share in np.linspace(0, 1, 9):
            at = bodies.positions + np.column_stack(
                [np.zeros(len(found)), bodies.heights * share, np.zeros(len(found))]
            )
            self.assertGreaterEqual((reach.distance(at, 9.0) - bodies.radii).min(), 0.01 - 2e-3)

    def test_nothing_stands_in_a_rail_however_tall_and_density_only_adds(self) -> None:
        rail = Structure(
            id="rail", source=KitPiece(item="railing"), placement=Placement(position=(0, 0.2, 0), size=2.5)
        )
        clear = ClearOfObjects(id="rail", objects=("rail",), distance=0.05, fade=0, body=0)
        mix = tuple(MixItem(item=item, room=0.2) for item in ("nettle", "birch", "lamp_post"))
        few = Scatter(id="few", density=12, spacing=0.1, mix=mix, keep_clear=(clear,))
        ground = Ground(size=(10, 6), relief=0)
        graph = graph_of(SiteDocument(ground=ground, structures=(rail,), planting=(few,)))
        more = changed(graph, planting=(few.model_copy(update={"density": 18.0}),))
        ids = []
        for one in (graph, more):
            found = placed_by(one, few)
            bodies = bodies_of(found, SHIPPED)
            nearest = one.get(WholeScene()).objects["rail"].nearest
            heights = np.linspace(0, 1, 800)[None, :, None] * (bodies.heights[:, None, None] * np.array([0, 1.0, 0]))
            away = nearest.distance((bodies.positions[:, None] + heights).reshape(-1, 3), 9.0).reshape(len(found), -1)
            self.assertGreaterEqual(away.min(), 0.05 - 0.01)
            ids.append(set(found.ids.tolist()))
        self.assertGreater(len(ids[1]), len(ids[0]) + 20)
        self.assertEqual(ids[0] - ids[1], set(), "more density took some away")

    def test_outlines_of_wide_things_are_found_behind_nearer_middles(self) -> None:
        dice = np.random.default_rng(4)
        middles, radii = dice.uniform(-20, 20, (500, 2)), dice.uniform(0.01, 6, 500)
        places = dice.uniform(-25, 25, (300, 2))
        wanted = (np.linalg.norm(places[:, None] - middles[None], axis=2) - radii).min(1)
        np.testing.assert_allclose(to_outlines(places, middles, radii), wanted, atol=1e-9)
        np.testing.assert_allclose(to_outlines(places[:2], middles[:1], radii[:1]),
                                   np.linalg.norm(places[:2] - middles[0], axis=1) - radii[0])  # fmt: skip

    def test_the_band_fades_number_and_size(self) -> None:
        post = box((-0.5, -3, -0.5), (0.5, 5, 0.5)).corners
        around = scene(ground=FLAT, post=post)
        clear = ClearOfObjects(id="post", distance=1, fade=6, body=0)
        found = placed(around, surface(FLAT), density=40, spacing=0, mix=(MixItem(item="stone", size=(1, 1)),),
                       keep_clear=(clear,))  # fmt: skip
        away = Distance(objects=("post",), reach=30).measure(samples(found.positions * [1, 0, 1]), around)
        self.assertGreaterEqual(away.min(), 1 - 1e-3)
        np.testing.assert_allclose(found.sizes, 0.4 + 0.6 * np.clip((away - 1) / 6, 0, 1), atol=0.02)
        # A share of the density, as far through the band as it stands there: a quarter of the way, and three quarters.
        for low, high, share in ((2, 3, 0.25), (5, 6, 0.75)):
            ring = ((away >= low) & (away < high)).sum()
            area = 4 * (high - low) + np.pi * (high**2 - low**2)
            self.assertAlmostEqual(ring / (40 * area), share, delta=0.06)

    def test_zones_are_kept_clear_by_the_outline_of_items(self) -> None:
        path = Zone(id="path", shape="drawn", outline=((-15, -1), (15, -1), (15, 1), (-15, 1)))
        layer = Scatter(id="grass", density=6, keep_clear=(ClearOfZones(id="path", distance=0, fade=0),))
        shop = graph_of(SiteDocument(ground=Ground(size=(12, 12)), zones=(path,), planting=(layer,)))
        found = placed_by(shop, layer)
        bodies = bodies_of(found, SHIPPED)
        self.assertGreaterEqual((np.abs(bodies.positions[:, 2]) - bodies.radii).min(), 1 - 0.03)

    def test_later_layers_respect_earlier_ones(self) -> None:
        trees = Scatter(id="trees", density=0.05, spacing=3, mix=(MixItem(item="alder"),))
        clear = ClearOfPlanting(id="trees", distance=0.2, fade=0, body=0, trunks=100)
        ferns = Scatter(id="ferns", density=3, mix=(MixItem(item="fern"),), keep_clear=(clear,))
        ground = Ground(size=(24, 24))
        shop = graph_of(SiteDocument(ground=ground, planting=(trees, ferns)))
        crowns = shop.get(PlantedBodies("trees"))
        self.assertGreater(len(crowns), 5)
        found = placed_by(shop, ferns)
        away = np.linalg.norm(found.positions[:, None, [0, 2]] - crowns.positions[None, :, [0, 2]], axis=2)
        self.assertGreaterEqual((away - crowns.radii).min(), 0.2 - 0.03)
        # A tree moved by hand takes its clearing with it; layers cannot look at layers above them.
        fewer = graph_of(SiteDocument(ground=ground, planting=(trees.model_copy(update={"density": 0.02}), ferns)))
        self.assertNotEqual(fewer.key(LayerPlacements(ferns.id)), shop.key(LayerPlacements(ferns.id)))
        named = ferns.model_copy(update={"keep_clear": (clear.model_copy(update={"layers": ("trees",)}),)})
        with self.assertRaisesRegex(ValidationError, "planting/0: it looks at “Scatter”"):
            SiteDocument(planting=(named, trees))

    def test_nothing_stands_before_the_lens(self) -> None:
        shot = Shot(id="shot", position=(0, 0.6, 8), target=(0, 0.5, 0), lens=33)
        layer = Scatter(id="grass", density=8, spacing=0.1, keep_clear=(ClearOfShot(id="lens", distance=4, fade=0),))
        shop = graph_of(SiteDocument(ground=Ground(size=(24, 24), relief=0), shots=(shot,), planting=(layer,)))
        found, view = placed_by(shop, layer), shot.camera()
        at = found.positions.astype(float) - (view.eye - [0, 0.1, 0])
        depth = at @ view.ahead
        seen = (depth > 0.3) & (np.abs(at[:, 0]) < depth * view.width) & (np.abs(at @ view.up) < depth * view.height)
        self.assertGreater(np.linalg.norm(at[seen], axis=1).min(), 3.9)
        beside = np.linalg.norm(at, axis=1) < 3
        self.assertTrue(beside.any())


class HandTests(unittest.TestCase):
    def test_what_is_changed_by_hand_survives_rules_seeds_and_density(self) -> None:
        before = placed()
        gone, moved = (id_text(id) for id in before.ids[[10, 20]])
        mine = Planted(id="mine", instead=moved, item="fern", position=(20, 1, 20), turn=30, size=2)
        for changes in ({}, {"density": 1.0}, {"seed": 5}, {"where": where(card("slope", Slope(), 89, 90))}):
            after = placed(removed=(gone,), planted=(mine,), **changes)
            own = after.only(after.origins == BY_HAND)
            self.assertEqual([after.names[item] for item in own.items], ["fern"])
            np.testing.assert_allclose(own.positions, [[20, 1, 20]])
            np.testing.assert_allclose(
                rotation_matrices(own.rotations)[0, :, 2], [0.5, 0, np.cos(np.radians(30))], atol=1e-6
            )
            self.assertFalse(np.isin([int(gone, 16), int(moved, 16)], after.ids).any())
        after = placed(removed=(gone,), planted=(mine,))
        lost = set(before.ids.tolist()) - set(after.ids.tolist())
        self.assertEqual(lost, {int(gone, 16), int(moved, 16)})

    def test_rules_give_way_to_what_is_planted(self) -> None:
        mine = Planted(id="mine", item="grass_tuft", position=(1, 0, 1))
        after = placed(planted=(mine,), spacing=0.5)
        others = after.only(after.origins == BY_RULE)
        self.assertGreater(cKDTree(others.positions[:, [0, 2]]).query([1, 1])[0], 0.45)

    def test_rows_keep_their_spacing_and_face_along(self) -> None:
        row = Row(id="hedge", path=((-4, 0, 0), (4, 0, 0)), spacing=0.5, aside=1, order="in turn")
        found = placed(
            scene(ground=FLAT), surface(FLAT), density=0, mix=(MixItem(item="stone", sink=(0, 0)), GRASS), rows=(row,)
        )
        self.assertEqual(len(found), 17)
        self.assertTrue((found.origins == IN_ROW).all())
        self.assertEqual(found.items.tolist(), [0, 1] * 8 + [0])
        for a, b in pairwise(found.positions[:, 0]):
            self.assertAlmostEqual(b - a, 0.5, places=5)
        np.testing.assert_allclose(found.positions[:, 2], 1, atol=1e-5)
        np.testing.assert_allclose(rotation_matrices(found.rotations)[:, :, 0], np.tile([1, 0, 0], (17, 1)), atol=1e-5)
        by_number = row.model_copy(update={"by": "number", "number": 5, "jitter": 0.3})
        again = placed(scene(ground=FLAT), surface(FLAT), density=0, rows=(by_number,))
        self.assertEqual(len(again), 5)
        stray = np.hypot(again.positions[:, 0] - np.linspace(-4, 4, 5), again.positions[:, 2] - 1)
        self.assertLess(stray.max(), 0.31)

    def test_a_row_stands_on_the_uppermost_of_its_surfaces(self) -> None:
        row = Row(id="row", path=((-4, 0, 0), (4, 0, 0)), by="number", number=9)
        deck = surface(square(3, height=0.5), "deck")
        for surfaces in ([surface(FLAT), deck], [deck, surface(FLAT)]):
            layer = Scatter(id="a", density=0, mix=(MixItem(item="stone", sink=(0, 0)),), rows=(row,))
            found = fill(layer, surfaces, scene(ground=FLAT))
            on_deck = np.abs(found.positions[:, 0]) < 1.5
            np.testing.assert_allclose(found.positions[:, 1], np.where(on_deck, 0.5, 0), atol=1e-5)

    def test_a_row_lies_on_the_ground(self) -> None:
        row = Row(id="row", path=((-9, 50, -9), (9, 50, 9)), by="number", number=30)
        found = placed(density=0, mix=(MixItem(item="stone", sink=(0, 0)),), rows=(row,))
        _, _, _, there, _ = surface().drop(found.positions[:, [0, 2]].astype(float))
        np.testing.assert_allclose(found.positions, there, atol=1e-4)


class LeafFallTests(unittest.TestCase):
    def test_leaves_lie_under_crowns_and_downwind_of_them(self) -> None:
        oak = Planted(id="oak", item="alder", position=(0, 0, 0))
        trees = Scatter(id="trees", density=0, planted=(oak,), mix=(MixItem(item="alder"),))
        shop = graph_of(SiteDocument(ground=Ground(size=(40, 40), relief=0), planting=(trees,)))
        signal = LeafFall(layers=("trees",), bearing=270, drift=0.6)
        radius = float(shop.get(PlantedBodies("trees")).radii[0])
        east, west, far = (samples([[x, 0, 0]]) for x in (radius, -radius, 19))
        values = [float(signal.measure(at, scene_for(shop, signal))[0]) for at in (east, west, far)]
        self.assertGreater(values[0], 2 * values[1])
        self.assertLess(values[2], 0.02)
        still = LeafFall(layers=("trees",), drift=0)
        under = float(still.measure(samples([[0, 0, 0]]), scene_for(shop, still))[0])
        self.assertAlmostEqual(under, 1, delta=0.05)
        self.assertAlmostEqual(
            float(still.measure(samples([[radius, 0, 0]]), scene_for(shop, still))[0]), np.exp(-1), delta=0.05
        )
        self.assertEqual(float(LeafFall().measure(east, scene_for(shop, LeafFall()))[0]), 0)
        self.assertEqual(scene_for(shop, signal).planted.keys(), {"trees"})


class TintTests(unittest.TestCase):
    def test_a_match_takes_the_average_where_it_says(self) -> None:
        green = np.array([0.1, 0.4, 0.05])
        np.testing.assert_allclose(match_factor(Match(), green), 1)
        np.testing.assert_allclose(match_factor(Match(brightness=0.5), green), 0.5)
        grey = green * match_factor(Match(saturation=0), green)
        np.testing.assert_allclose(grey, green @ LUMINANCE)
        red = green * match_factor(Match(tint=(1, 0.2, 0.1), tinted=100), green)
        np.testing.assert_allclose(red / red[0], [1, 0.2, 0.1], atol=1e-6)
        self.assertAlmostEqual(red @ LUMINANCE, green @ LUMINANCE)

    def test_a_suggestion_brings_brightness_within_reach_of_the_surroundings(self) -> None:
        ground = np.array([0.1, 0.09, 0.06])
        for own in ([0.02, 0.05, 0.01], [0.3, 0.9, 0.1], [0.1, 0.12, 0.06]):
            factor = match_factor(suggested_match(np.array(own), ground), np.array(own))
            ratio = (own * factor) @ LUMINANCE / (ground @ LUMINANCE)
            self.assertTrue(0.65 <= ratio <= 1.6, ratio)
        fits = suggested_match(ground, ground)
        self.assertAlmostEqual(fits.brightness, 1)

    def test_a_match_reaches_the_table(self) -> None:
        plain = Scatter(id="a", density=2, mix=(MixItem(item="grass_tuft"),))
        darker = Scatter(id="a", density=2, mix=(MixItem(item="grass_tuft", match=Match(brightness=0.5)),))
        shop = graph_of(small_site(planting=(plain,)))
        one, other = placed_by(shop, plain), placed_by(changed(shop, planting=(darker,)), darker)
        np.testing.assert_array_equal(one.ids, other.ids)
        np.testing.assert_allclose(other.tints, one.tints * 0.5, rtol=1e-5)


class OlderSitesTests(unittest.TestCase):
    def test_a_layer_of_one_surface_is_read(self) -> None:
        self.assertEqual(Scatter(id="a", surface="deck").surfaces, ("deck",))
        self.assertEqual(Scatter(id="a", surfaces=("deck", "deck", "ground")).surfaces, ("deck", "ground"))

    def test_extents_are_those_of_the_meshes(self) -> None:
        radii, heights = extents(SHIPPED, ("stone", "birch"), np.array([0, 1]), np.array([0, 0]))
        self.assertLess(radii[0], radii[1])
        self.assertAlmostEqual(heights[1], SHIPPED.mesh("birch", 0).bounds[1][1], places=5)
