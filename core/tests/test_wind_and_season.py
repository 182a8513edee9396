"""Wind and season: gusts, the bend of a rod, leaves that fall, litter that gathers, and what of it reaches files."""

from __future__ import annotations

import unittest

import numpy as np
from shapes import graph_of, placed_by, small_site

from cenote.derive.colours import FaceColours, ItemMesh
from cenote.derive.items import PlacedLooks, sway_of
from cenote.export.site_glb import export_glb
from cenote.geometry.mesh import Mesh
from cenote.kit.base import CARD, KIT
from cenote.kit.seasons import STATIONS, leaf_faces, leaves_left, litter_lying, season_colour, shed
from cenote.kit.shelf import SHIPPED, OwnItem, Shelf
from cenote.scatter.instances import by_variant, placed_vertices, triangle_count
from cenote.scatter.layer import MixItem, Scatter
from cenote.scatter.rotations import rotation_matrices
from cenote.scatter.wind import MOST, Sway, Wind, bend, bent, speeds, waves
from cenote.weather.climate import Climate

PLACES = np.random.default_rng(5).uniform(-40, 40, (4000, 3))


def rod(height: float, steps: int = 200) -> np.ndarray:
    """Points up a plumb line, (1, steps + 1, 3)."""
    return np.column_stack([np.zeros(steps + 1), np.linspace(0, height, steps + 1), np.zeros(steps + 1)])[None]


class GustTests(unittest.TestCase):
    def test_still_air_and_steady_wind(self) -> None:
        np.testing.assert_array_equal(speeds(Wind(), PLACES), 0)
        np.testing.assert_allclose(speeds(Wind(strength=7, gusts=0), PLACES), 7)

    def test_gusts_stay_within_their_share_about_the_mean(self) -> None:
        found = speeds(Wind(strength=10, gusts=50), PLACES)
        self.assertTrue((found >= 5 - 1e-9).all() and (found <= 15 + 1e-9).all())
        self.assertGreater(np.ptp(found), 5)
        self.assertAlmostEqual(found.mean(), 10, delta=0.4)
        self.assertAlmostEqual(waves(Wind(strength=10, gusts=50))[:, 4].sum(), 0.5)

    def test_the_pattern_travels_with_the_wind(self) -> None:
        wind = Wind(strength=6, bearing=200)
        moved = PLACES + np.array([wind.way[0], 0, wind.way[1]]) * 6 * 2.5
        np.testing.assert_allclose(speeds(wind, moved, 2.5), speeds(wind, PLACES, 0), atol=1e-9)
        self.assertGreater(np.abs(speeds(wind, PLACES, 2.5) - speeds(wind, PLACES, 0)).max(), 1)

    def test_a_west_wind_blows_to_the_east_and_north_is_away_from_z(self) -> None:
        np.testing.assert_allclose(Wind(bearing=270).way, [1, 0], atol=1e-12)
        np.testing.assert_allclose(Wind(bearing=0).way, [0, 1], atol=1e-12)

    def test_the_moment_is_the_winds_own_unless_another_is_asked_for(self) -> None:
        wind = Wind(strength=5, moment=3)
        np.testing.assert_array_equal(speeds(wind, PLACES), speeds(wind, PLACES, 3))


class BendTests(unittest.TestCase):
    def test_the_stiffness_is_the_speed_of_45_degrees(self) -> None:
        np.testing.assert_allclose(bend(np.array([0, 12, 12 * np.sqrt(np.sqrt(3))]), 12), [0, np.pi / 4, np.pi / 3])
        np.testing.assert_array_equal(bend(np.array([5.0, 80.0]), np.inf), 0)
        self.assertEqual(bend(np.array([1e4]), 1)[0], MOST)

    def test_a_rod_keeps_its_length_and_its_top_leans_as_asked(self) -> None:
        for angle in (0.0, 1e-7, 0.3, 1.2):
            found = bent(rod(2.0), np.array([angle]), np.array([2.0]), np.array([0.6, 0.8]))[0]
            length = np.linalg.norm(np.diff(found, axis=0), axis=1).sum()
            self.assertAlmostEqual(length, 2.0, places=4)
            top = found[-1] - found[-2]
            self.assertAlmostEqual(np.arccos(np.clip(top[1] / np.linalg.norm(top), -1, 1)), angle, delta=0.01)
            # An arc of a circle: its height and its reach are known.
            if angle > 0.1:
                reach, height = 2 / angle * (1 - np.cos(angle)), 2 / angle * np.sin(angle)
                np.testing.assert_allclose(found[-1], [0.6 * reach, height, 0.8 * reach], atol=1e-9)

    def test_what_lies_across_stays_as_wide_and_below_the_foot_nothing_moves(self) -> None:
        points = np.array([[[0.3, 1.0, 0.0], [-0.3, 1.0, 0.0], [0.0, 1.0, 0.4], [0.2, -0.5, 0.1]]])
        found = bent(points, np.array([0.9]), np.array([1.5]), np.array([1.0, 0.0]))[0]
        self.assertAlmostEqual(np.linalg.norm(found[0] - found[1]), 0.6)
        self.assertAlmostEqual(found[2][2], 0.4)
        np.testing.assert_allclose(found[3], points[0, 3], atol=1e-12)

    def test_above_its_height_it_goes_on_straight(self) -> None:
        found = bent(rod(3.0, 300), np.array([0.8]), np.array([1.0]), np.array([1.0, 0.0]))[0]
        np.testing.assert_allclose(found[300] - found[200], found[200] - found[100], atol=1e-9)
        np.testing.assert_allclose(found[200] - found[100], [np.sin(0.8), np.cos(0.8), 0], atol=1e-9)

    def test_leaning_takes_the_top_the_way_a_bent_item_goes(self) -> None:
        sway = Sway(Wind(strength=9, gusts=0, bearing=250), 14.0, 1.0)
        at = np.zeros((1, 3))
        straight = rotation_matrices(sway.leaning(at).astype(np.float32))[0] @ [0, 1, 0]
        top = sway.vertices(rod(1.0), at, np.ones(1))[0, -1]
        np.testing.assert_allclose(straight, top / np.linalg.norm(top), atol=1e-6)

    def test_stone_and_still_air_move_nothing(self) -> None:
        offsets = rod(1.0)
        for sway in (Sway(Wind(strength=20), np.inf, 1.0), Sway(Wind(), 10.0, 1.0)):
            self.assertIs(sway.vertices(offsets, np.zeros((1, 3)), np.ones(1)), offsets)
            np.testing.assert_array_equal(sway.leaning(np.zeros((2, 3))), [[0, 0, 0, 1]] * 2)

    def test_plants_give_way_and_what_does_not_grow_stands(self) -> None:
        for item in KIT:
            with self.subTest(item.title):
                self.assertEqual(np.isfinite(item.stiffness), item.grows)
        self.assertLess(KIT["meadow_grass"].stiffness, KIT["alder"].stiffness)

    def test_an_item_of_ones_own_may_be_stiffer(self) -> None:
        shelf = Shelf((OwnItem(id="own-reed", source=KIT["reed"](kind="reed"), stiffness=2.5),))
        self.assertEqual(shelf.stiffness("own-reed"), 2.5 * shelf.stiffness("reed"))


class SeasonTests(unittest.TestCase):
    def test_leaves_hang_full_in_summer_and_are_gone_in_winter(self) -> None:
        alder, ivy = SHIPPED.item("alder"), SHIPPED.item("ivy")
        self.assertEqual([leaves_left(alder, season) for season in (0.4, 1.0)], [1.0, 0.0])
        autumn = [leaves_left(alder, season) for season in np.linspace(0.62, 1, 20)]
        self.assertTrue((np.diff(autumn) <= 0).all())
        self.assertTrue(all(leaves_left(ivy, season) == 1 for season in STATIONS))

    def test_litter_gathers_as_leaves_fall(self) -> None:
        litter = SHIPPED.item("dead_leaves")
        self.assertGreater(litter_lying(litter, 0.9), 3 * litter_lying(litter, 0.4))
        self.assertEqual(litter_lying(SHIPPED.item("stone"), 0.4), 1)

    def test_what_does_not_grow_keeps_its_colour_and_summer_is_as_built(self) -> None:
        np.testing.assert_array_equal(season_colour(SHIPPED.item("crate"), 0.9), 1)
        for kind in ("alder", "reed", "ivy", "fern"):
            np.testing.assert_allclose(season_colour(SHIPPED.item(kind), 0.4), 1)

    def test_leaves_fall_one_by_one_and_evenly_over_the_crown(self) -> None:
        for kind in ("alder", "birch", "hawthorn"):
            with self.subTest(kind):
                item = SHIPPED.item(kind)
                whole = SHIPPED.mesh(kind, 0)
                leaves = whole.parts == whole.part_names.index(CARD)
                half, none = shed(whole, 0.5, item.leaf), shed(whole, 0, item.leaf)
                self.assertEqual(len(none.faces), int((~leaves).sum()))
                hung = half.corners[half.parts == half.part_names.index(CARD)]
                self.assertAlmostEqual(len(hung) / leaves.sum(), 0.5, delta=0.01)
                self.assertEqual(len(hung) % item.leaf, 0)
                all_ = whole.corners[leaves].reshape(-1, 3)
                spread = all_.std(0)
                self.assertTrue((np.abs(hung.reshape(-1, 3).mean(0) - all_.mean(0)) < 0.2 * spread).all())
                # Whole leaves: the faces of one hang together or not at all.
                kept = {face.tobytes() for face in half.faces}
                rows = np.flatnonzero(leaves).reshape(-1, item.leaf)
                sums = np.array([[whole.faces[row].tobytes() in kept for row in leaf] for leaf in rows]).sum(1)
                self.assertTrue(np.isin(sums, [0, item.leaf]).all())
                self.assertIs(shed(whole, 1.0, item.leaf), whole)
                self.assertEqual(leaf_faces(whole, 0.5, item.leaf), len(hung))

    def test_a_mesh_without_leaves_stays(self) -> None:
        mesh = Mesh.of([[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[0, 1, 2]])
        self.assertIs(shed(mesh, 0.2), mesh)


class OnSiteTests(unittest.TestCase):
    def site(self, season: float = 0.4, wind: Wind | None = None, *kinds: str):
        layer = Scatter(id="a", density=0.15, mix=tuple(MixItem(item=kind) for kind in kinds or ("alder", "stone")))
        return graph_of(small_site(planting=(layer,), climate=Climate(season=season), wind=wind or Wind())), layer

    def test_the_season_moves_nothing_but_leaves(self) -> None:
        (summer, layer), (winter, _) = self.site(0.4), self.site(1.0)
        a, b = placed_by(summer, layer), placed_by(winter, layer)
        np.testing.assert_array_equal(a.ids, b.ids)
        np.testing.assert_array_equal(a.tints, b.tints)
        self.assertLess(triangle_count(b, PlacedLooks(winter)), triangle_count(a, PlacedLooks(summer)))
        bark = winter.get(ItemMesh("alder", 0))
        self.assertTrue((bark.parts != bark.part_names.index(CARD)).all())

    def test_bark_does_not_turn_with_the_leaves(self) -> None:
        summer, autumn = (self.site(season)[0].get(FaceColours("birch", 0)) for season in (0.4, 0.55))
        mesh = SHIPPED.mesh("birch", 0)
        ratio = autumn / np.maximum(summer, 1e-9)
        leaves = mesh.parts == mesh.part_names.index(CARD)
        np.testing.assert_allclose(ratio[~leaves], 1, rtol=1e-5)
        self.assertGreater(ratio[leaves][:, 0].mean(), 1.5)

    def test_litter_of_autumn_holds_that_of_summer(self) -> None:
        (summer, layer), (autumn, _) = self.site(0.4, None, "dead_leaves"), self.site(0.9, None, "dead_leaves")
        few, many = placed_by(summer, layer), placed_by(autumn, layer)
        self.assertLess(len(few), 0.7 * len(many))
        self.assertTrue(np.isin(few.ids, many.ids).all())

    def test_wind_bends_what_is_placed_and_leaves_its_foot(self) -> None:
        still, layer = self.site(0.4, None, "reed")
        windy, _ = self.site(0.4, Wind(strength=10, gusts=0, bearing=270), "reed")
        placed = placed_by(windy, layer)
        item, variant, rows = next(iter(by_variant(placed)))
        mesh = windy.get(ItemMesh(item, variant))
        plain = placed_vertices(mesh, placed, rows, sway_of(still, item))
        np.testing.assert_array_equal(plain, placed_vertices(mesh, placed, rows))
        blown = placed_vertices(mesh, placed, rows, sway_of(windy, item))
        top = mesh.positions[:, 1].argmax()
        self.assertTrue((blown[:, top, 0] - plain[:, top, 0] > 0.2).all())
        foot = mesh.positions[:, 1] <= 0.01
        self.assertLess(np.abs(blown[:, foot] - plain[:, foot]).max(), 0.02)

    def test_files_have_the_pose_the_season_and_no_leaf_that_fell(self) -> None:
        def written(season: float, wind: Wind | None, manner: str) -> int:
            return len(export_glb(self.site(season, wind, "alder")[0], manner, 0.2, lambda *_: None))

        wind = Wind(strength=12)
        for manner in ("merged", "instanced"):
            with self.subTest(manner):
                self.assertLess(written(1.0, None, manner), 0.9 * written(0.4, None, manner))
                self.assertAlmostEqual(written(0.4, None, manner), written(0.4, wind, manner), delta=200)
        still, windy = (
            export_glb(self.site(0.4, one, "reed")[0], "merged", 0.2, lambda *_: None) for one in (None, wind)
        )
        self.assertNotEqual(still, windy)
