"""Shaping the ground: brushes, hollows, height maps and paint do what they say, and bad values are told by field."""

from __future__ import annotations

import io
import unittest
from unittest.mock import patch

import numpy as np
from PIL import Image
from pydantic import ValidationError
from scipy.ndimage import label
from shapes import graph_of, small_site

from cenote.derive.ground import GroundHeights, Pools
from cenote.derive.maps import SurfaceMaps
from cenote.derive.surfaces import ObjectShape
from cenote.formats.height_maps import read_height_map, write_height_map
from cenote.geometry.charts import from_above
from cenote.geometry.ground import levelled
from cenote.geometry.sculpt import dabs_along, distance_to_outline, from_map, hollowed, painted, sculpted
from cenote.refused import ImportRefused
from cenote.site.ground import Ground, HeightMap, Hollow, Levelled, PaintedMaterial, PaintStroke, Stroke

SIDE = 81
X, Z = np.meshgrid(np.linspace(-10, 10, SIDE), np.linspace(-10, 10, SIDE))
GRID = {"origin": (-10.0, -10.0), "spacing": (0.25, 0.25)}


def stroked(heights, path, **how):
    """A stroke over the test grid."""
    usual = {"tool": "raise", "radius": 2.0, "strength": 0.5, "soft": 0.7}
    return sculpted(heights, *GRID.values(), np.array(path, float), **(usual | how))


class BrushTests(unittest.TestCase):
    flat = np.zeros((SIDE, SIDE))

    def test_dabs_are_evenly_spaced_along_the_path(self) -> None:
        spots = dabs_along(np.array([[0, 0], [3, 0], [3, 4]]), 1.0)
        np.testing.assert_allclose(np.hypot(*np.diff(spots, axis=0).T)[:11], 0.25, atol=1e-9)
        self.assertEqual(len(spots), 29)
        self.assertEqual(len(dabs_along(np.array([[1, 2]]), 1.0)), 1)

    def test_raising_and_lowering_stay_under_the_brush_and_undo_each_other(self) -> None:
        up = stroked(self.flat, [[-4, 0], [4, 0]])
        away = np.hypot(np.maximum(np.abs(X) - 4, 0), Z)
        self.assertEqual(up[away >= 2].max(), 0)
        self.assertTrue((up[away < 1.5] > 0).all())
        # In the middle of a long pass the strength is reached, however soft the brush is.
        for soft in (0.0, 0.3, 0.7, 1.0):
            middle = stroked(self.flat, [[-4, 0], [4, 0]], soft=soft)[SIDE // 2, SIDE // 2 - 4 : SIDE // 2 + 5]
            np.testing.assert_allclose(middle, 0.5, rtol=0.15 if soft == 0 else 0.03)
        np.testing.assert_allclose(stroked(up, [[-4, 0], [4, 0]], tool="lower"), 0, atol=1e-12)

    def test_a_short_stroke_is_as_high_and_passing_again_adds(self) -> None:
        self.assertAlmostEqual(stroked(self.flat, [[-0.5, 0], [0.5, 0]]).max(), 0.5, delta=0.03)
        once = stroked(self.flat, [[-4, 0], [4, 0]])[SIDE // 2, SIDE // 2]
        twice = stroked(self.flat, [[-4, 0], [4, 0], [-4, 0]])[SIDE // 2, SIDE // 2]
        self.assertAlmostEqual(twice, 2 * once, delta=0.05)

    def test_one_press_does_what_a_stroke_does(self) -> None:
        self.assertAlmostEqual(stroked(self.flat, [[0, 0]])[SIDE // 2, SIDE // 2], 0.5, places=6)

    def test_flattening_leads_to_its_level_and_smoothing_to_the_mean(self) -> None:
        rough = np.random.default_rng(1).normal(0, 0.3, (SIDE, SIDE))
        near = np.hypot(X, Z) < 0.8
        level = stroked(rough, [[-1, 0], [1, 0], [-1, 0]], tool="flatten", strength=0.95, level=1.5)
        np.testing.assert_allclose(level[near], 1.5, atol=0.12)
        smooth = stroked(rough, [[-1, 0], [1, 0], [-1, 0]], tool="smooth", strength=0.95)
        self.assertLess(smooth[near].std(), 0.35 * rough[near].std())

    def test_roughening_is_the_same_for_the_same_seed(self) -> None:
        a, b, c = (stroked(self.flat, [[0, 0], [3, 1]], tool="roughen", seed=seed) for seed in (1, 1, 2))
        np.testing.assert_array_equal(a, b)
        self.assertGreater(np.abs(a - c).max(), 0.01)
        self.assertGreater(a.std(), 0.01)

    def test_a_hard_edge_is_steeper_than_a_soft_one(self) -> None:
        hard, soft = (stroked(self.flat, [[0, 0]], soft=soft) for soft in (0, 1))
        self.assertGreater(np.abs(np.gradient(hard)[0]).max(), 2 * np.abs(np.gradient(soft)[0]).max())

    def test_strokes_beyond_the_ground_do_nothing(self) -> None:
        np.testing.assert_array_equal(stroked(self.flat, [[60, 60], [70, 70]]), self.flat)


class HollowTests(unittest.TestCase):
    def test_a_round_hollow_has_its_depth_and_its_rim(self) -> None:
        hollow = Hollow(centre=(1, 0), size=(8, 8), depth=1.2, rim_height=0.2, rim_width=0.8, softness=1)
        out = hollowed(X, Z, np.zeros_like(X), hollow.corners(), depth=1.2, rim_height=0.2, rim_width=0.8, soft=1)
        away = np.hypot(X - 1, Z)
        np.testing.assert_allclose(out[away < 2.5], -1.2, atol=0.02)
        self.assertAlmostEqual(out[np.abs(away - 4) < 0.15].mean(), 0.2, delta=0.08)
        np.testing.assert_allclose(out[away > 5.2], 0, atol=1e-9)

    def test_distances_to_a_square_outline(self) -> None:
        square = np.array([[-2, -2], [2, -2], [2, 2], [-2, 2]], float)
        away, inside = distance_to_outline(np.array([[0.0, 3.0, 5.0]]), np.array([[0.0, 0.0, 6.0]]), square)
        np.testing.assert_allclose(away, [[2, 1, 5]])
        np.testing.assert_array_equal(inside, [[True, False, False]])

    def test_outlines_must_have_area_and_not_cross_themselves(self) -> None:
        for outline, words in (
            (((0, 0), (1, 0)), "three corners"),
            (((0, 0), (1, 0), (2, 0)), "no area"),
            (((0, 0), (2, 3), (2, 0), (0, 2)), "cross"),
        ):
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                Hollow(outline=outline)
        self.assertEqual(len(Hollow(outline=((0, 0), (2, 0), (2, 2), (0, 2))).corners()), 4)

    def test_a_pool_stands_below_its_rim(self) -> None:
        ground = Ground(size=(12, 12), relief=0, spacing=0.25, hollows=(
            Hollow(centre=(0, 0), size=(6, 6), depth=1, rim_height=0, filled=True, water=0.3),))  # fmt: skip
        ((level, outline),) = graph_of(small_site(ground=ground)).get(Pools())
        self.assertAlmostEqual(level, -0.3, delta=0.05)
        self.assertAlmostEqual(np.hypot(*outline.T).mean(), 3, delta=0.01)

    def pools(self, **values) -> tuple[Ground, np.ndarray, list[tuple[float, np.ndarray]]]:
        ground = Ground(size=(24, 24), spacing=0.25, **values)
        graph = graph_of(small_site(ground=ground))
        return ground, graph.get(GroundHeights()).heights, graph.get(Pools())

    def test_water_stands_as_far_below_the_outline_as_it_says(self) -> None:
        for rim, width, soft in ((0.0, 0.0, 1.0), (0.1, 0.6, 1.5), (0.4, 0.3, 0.05), (0.3, 2.0, 3.0)):
            hollow = Hollow(centre=(1, -2), size=(9, 6), depth=1.5, rim_height=rim, rim_width=width, softness=soft,
                            filled=True, water=0.2)  # fmt: skip
            _, heights, ((level, _),) = self.pools(relief=0, hollows=(hollow,))
            self.assertAlmostEqual(level, -0.2, delta=1e-6)
            self.assertAlmostEqual(heights.min(), -1.5, delta=1e-6)

    def test_a_narrow_hollow_is_as_deep_as_it_says(self) -> None:
        hollow = Hollow(size=(2, 2), depth=0.8, rim_height=0, softness=1.5)
        _, heights, _ = self.pools(relief=0, hollows=(hollow,))
        self.assertAlmostEqual(heights.min(), -0.8, delta=1e-6)

    def test_water_never_stands_above_the_lowest_place_of_its_rim(self) -> None:
        tilted = HeightMap(map="0" * 64, range=(0, 6), smoothing=0)
        hollow = Hollow(size=(8, 8), depth=2.5, rim_height=0.1, rim_width=0.6, softness=1, filled=True, water=0.05)
        ground = Ground(size=(24, 24), spacing=0.25, height_map=tilted, hollows=(hollow,))
        ramp = np.tile(np.linspace(0, 1, 97, dtype=np.float32), (97, 1))
        heights = ground.heights(lambda _: ramp)
        ((level, _),) = ground.waters(heights, ground.outline_levels(lambda _: ramp))
        # The outline's mean height is 3 m, of which 0.05 is left; downhill it lies at 2 m, with a rim of 0.1 m on it.
        self.assertAlmostEqual(level, 2.05, delta=0.06)

        def runs_off(height: float) -> bool:
            """Whether what lies below a height reaches from the middle to the border."""
            parts, _ = label(heights < height)
            return parts[48, 48] in np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]])

        self.assertFalse(runs_off(level - 0.03))
        self.assertTrue(runs_off(level + 0.1))

    def test_a_hollow_that_was_filled_up_or_cut_open_holds_no_water(self) -> None:
        hollow = Hollow(size=(6, 6), depth=0.5, rim_height=0, softness=0.5, filled=True, water=0.1)
        filled = Stroke(tool="flatten", path=((-6, 0), (6, 0)), radius=8, strength=1, level=0, soft=0)
        for strokes, number in (((), 1), ((filled,) * 4, 0)):
            _, _, found = self.pools(relief=0, hollows=(hollow,), strokes=strokes)
            self.assertEqual(len(found), number)

    def test_a_turned_place_is_levelled_where_it_lies(self) -> None:
        out = levelled(X, Z, np.ones_like(X), (0, 0), (8, 2), 0.0, 0.01, 90)
        self.assertEqual(out[np.abs(Z) < 3.9][np.abs(X[np.abs(Z) < 3.9]) < 0.9].max(), 0)
        self.assertEqual(out[(np.abs(X) > 2) & (np.abs(Z) < 1)].min(), 1)


class GroundTests(unittest.TestCase):
    def test_strokes_are_applied_in_their_order_and_kept_step_by_step(self) -> None:
        strokes = tuple(Stroke(path=((x, 0), (x + 1, 0)), strength=0.3) for x in (-2, 0, 1))
        ground = Ground(size=(8, 8), spacing=0.5, strokes=strokes)
        shop = graph_of(small_site(ground=ground))
        np.testing.assert_allclose(shop.get(GroundHeights()).heights, ground.heights(), atol=1e-12)
        more = Ground(size=(8, 8), spacing=0.5, strokes=(*strokes, strokes[0]))
        with patch.object(Ground, "stroked", autospec=True, side_effect=Ground.stroked) as strokes_made:
            again = graph_of(small_site(ground=more), shop.cache).get(GroundHeights()).heights
            self.assertEqual(strokes_made.call_count, 1, "one more stroke costs only itself")
            fewer = Ground(size=(8, 8), spacing=0.5, strokes=strokes[:2])
            back = graph_of(small_site(ground=fewer), shop.cache).get(GroundHeights()).heights
            self.assertEqual(strokes_made.call_count, 1, "and one less costs nothing")
        np.testing.assert_allclose(again, more.heights(), atol=1e-12)
        np.testing.assert_allclose(back, fewer.heights(), atol=1e-12)

    def test_the_layout_of_the_ground_does_not_depend_on_its_heights(self) -> None:
        low, high = Ground(size=(8, 6), relief=0), Ground(size=(8, 6), relief=3)
        a, b = (from_above(one.build(), 0.25, np.array([-4, -3.0]), np.array([4, 3.0])) for one in (low, high))
        np.testing.assert_allclose(a.corners, b.corners, atol=1e-5)
        self.assertEqual((a.width, a.height), (b.width, b.height))
        self.assertTrue((a.corners >= 2).all() and (a.corners[..., 0] <= a.width - 2).all())

    def test_bad_strokes_are_refused_by_field(self) -> None:
        for values, words in (({"path": ()}, "path"), ({"path": ((1e9, 0),)}, "5 km"), ({"path": ((0, 0),), "radius": 0}, "radius"),
                              ({"path": ((0, 0),), "tool": "melt"}, "tool")):  # fmt: skip
            with self.subTest(words), self.assertRaisesRegex(ValidationError, words):
                Stroke(**values)

    def test_however_large_it_is_shaped_by_at_most_a_million_points(self) -> None:
        x, _ = Ground(size=(2000, 1500), spacing=0.1).grid()
        self.assertTrue(0.99e6 < x.size < 1.01e6, x.size)
        self.assertEqual(Ground(size=(40, 40), spacing=0.1).grid()[0].size, 401**2)

    def test_paint_covers_where_strokes_went_and_is_taken_away_again(self) -> None:
        mask = np.zeros((200, 200), np.float32)
        how = {"radius": 1.0, "strength": 0.8, "soft": 0.5}
        painted(mask, (-5, -5), 0.05, np.array([[-2, 0], [2, 0], [-2, 0]]), adds=True, **how)
        self.assertAlmostEqual(mask[100, 100], 0.8, places=5)
        self.assertEqual(mask[100, 10], 0)
        painted(mask, (-5, -5), 0.05, np.array([[0, 0]]), adds=False, **(how | {"strength": 1.0}))
        self.assertEqual(mask[100, 100], 0)
        self.assertAlmostEqual(mask[100, 135], 0.8, places=5)

    def test_painted_materials_show_in_the_maps_and_leave_the_mesh_alone(self) -> None:
        stroke = PaintStroke(path=((0, 0), (1, 0)), radius=2)
        paint = PaintedMaterial(id="sand", material="sand", strokes=(stroke,), hollows=0)
        plain = graph_of(small_site(ground=Ground(size=(8, 8)), weather=()))
        dressed = graph_of(small_site(ground=Ground(size=(8, 8), paints=(paint,)), weather=()), plain.cache)
        self.assertEqual(plain.key(ObjectShape("ground")), dressed.key(ObjectShape("ground")))
        maps = SurfaceMaps("ground", 0)
        bare, sandy = (one.get(maps).base.astype(int) for one in (plain, dressed))
        self.assertNotEqual(plain.key(maps), dressed.key(maps))
        middle = sandy.shape[0] // 2, sandy.shape[1] // 2
        self.assertGreater(sandy[middle][:3].sum(), bare[middle][:3].sum() + 60)
        np.testing.assert_array_equal(bare[4, 4], sandy[4, 4])


def png(pixels: np.ndarray) -> bytes:
    """A PNG file."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    return stream.getvalue()


class HeightMapTests(unittest.TestCase):
    def test_a_map_is_laid_over_the_ground(self) -> None:
        values = np.tile(np.linspace(0, 1, 64, dtype=np.float32), (64, 1))
        x, z = np.meshgrid([-4.0, 0.0, 4.0], [0.0])
        np.testing.assert_allclose(from_map(values, (8, 8), x, z, 2, 6, 0), [[2, 4, 6]], atol=0.04)
        ground = Ground(size=(8, 8), height_map=HeightMap(map="0" * 64, range=(2, 6), smoothing=0))
        heights = ground.heights(lambda digest: values)
        self.assertAlmostEqual(heights.min(), 2, delta=0.1)
        self.assertAlmostEqual(heights.max(), 6, delta=0.1)

    def test_maps_go_out_and_come_in_again(self) -> None:
        heights = np.random.default_rng(2).uniform(-3, 11, (40, 60))
        for kind, within in (("png", 14 / 65535), ("exr", 1e-5)):
            content, low, high = write_height_map(heights, kind)
            values, _ = read_height_map(f"map.{kind}", content)
            np.testing.assert_allclose(low + (high - low) * values, heights, atol=within)

    def test_a_map_of_a_ground_gives_that_ground_again(self) -> None:
        for spacing, size in ((0.5, (12, 20)), (0.7, (9, 30))):
            before = Ground(size=size, spacing=spacing, relief=3, swell=3, seed=4)
            heights = before.heights()
            content, low, high = write_height_map(heights, "exr")
            values, _ = read_height_map("map.exr", content)
            given = HeightMap(map="0" * 64, range=(low, high), smoothing=0)
            after = before.model_copy(update={"height_map": given}).heights(lambda digest, values=values: values)
            np.testing.assert_allclose(after, heights, atol=2e-6 * max(1, np.abs(heights).max()))

    def test_formats_and_remarks(self) -> None:
        ramp = np.tile(np.linspace(0, 255, 32).astype(np.uint8), (16, 1))
        values, remarks = read_height_map("a.png", png(ramp))
        self.assertEqual(values.shape, (16, 32))
        self.assertIn("256 steps", remarks[0])
        stream = io.BytesIO()
        Image.fromarray(ramp.astype(np.float32) * 7).save(stream, "TIFF")
        values, remarks = read_height_map("a.tif", stream.getvalue())
        self.assertEqual((values.min(), values.max()), (0, 1))
        _, remarks = read_height_map("a.png", png(np.dstack([ramp] * 3)))
        self.assertIn("colour", remarks[0])
        values, remarks = read_height_map("a.png", png(np.zeros((2100, 4), np.uint16)))
        self.assertEqual(values.shape, (2048, 4))
        self.assertIn("all of one height", remarks[0])

    def test_bad_maps_are_refused_in_words(self) -> None:
        nan, _, _ = write_height_map(np.full((4, 4), np.nan), "exr")
        for name, content, words in (
            ("one.png", png(np.zeros((1, 1), np.uint8)), "too few"),
            ("wide.png", png(np.zeros((2, 16384), np.uint8)), "at most 8192"),
            ("text.png", b"hello", "not a picture"),
            ("cut.png", png(np.zeros((64, 64), np.uint16))[:50], "not a picture"),
            ("nan.exr", nan, "not finite"),
            ("lies.exr", b"\x76\x2f\x31\x01" + b"nonsense", "not an EXR"),
        ):
            with self.subTest(name), self.assertRaisesRegex(ImportRefused, words):
                read_height_map(name, content)

    def test_places_have_their_own_turn(self) -> None:
        self.assertEqual(Levelled().turn, 0)
