"""Covers, the climate that they answer to, and the compositor."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError

from cenote.geometry.charts import charted
from cenote.geometry.mesh import Mesh
from cenote.geometry.texels import texel_grid
from cenote.weather.base import COVERS
from cenote.weather.climate import Climate
from cenote.weather.compose import LaidCover, LaidTile, Maps, compose, shrunk
from cenote.weather.dirt import Dirt
from cenote.weather.moss import Moss

SIDE, CELL = 0.8, 0.1


def plain_tile(grey: float, height: float = 0.5, rough: float = 0.8, metal: float = 0.0) -> LaidTile:
    """A tile of one value, 1 m wide with 1 cm of relief."""
    pixel = np.array([grey, grey, grey, height, rough, metal], np.float32)
    return LaidTile(np.broadcast_to(pixel, (16, 16, 6)).copy(), 1.0, 0.01, 0.0)


def wall() -> tuple:
    """A wall of one part: its atlas and texels."""
    mesh = Mesh.of([[0, 0, 0], [SIDE, 0, 0], [SIDE, SIDE, 0], [0, SIDE, 0]], [[0, 1, 2], [0, 2, 3]], "a")
    atlas = charted(mesh, CELL)
    return atlas, texel_grid(atlas, 2)


def composed(
    covers=(), occlusion: float = 0.0, tile: LaidTile | None = None, relief: bool = True, grade=(1, 1, 1, 1, 0)
) -> tuple[Maps, np.ndarray]:
    """Maps of the wall, and where it is."""
    atlas, grid = wall()
    fields = (
        np.full((atlas.height, atlas.width), occlusion, np.float32),
        np.full((atlas.height, atlas.width), 0.5, np.float32),
    )
    grades = np.tile(np.array(grade, np.float32), (2, 1))
    maps = compose(atlas, grid, [tile or plain_tile(0.2)], np.zeros(2, np.int32), grades, covers, *fields, relief)
    return maps, grid.inside


def cover(
    mask: float, tile: LaidTile, joints: float = 0.0, softness: float = 0.25, thickness: float = 0.02
) -> LaidCover:
    """A cover with one mask value everywhere."""
    _, grid = wall()
    return LaidCover(tile, np.full(grid.faces.shape, mask, np.float32), 1.0, joints, softness, thickness, 1.0)


class ComposeTests(unittest.TestCase):
    def test_bare_material_is_encoded_as_srgb(self) -> None:
        maps, inside = composed()
        # IEC 61966-2-1: linear 0.2 is 0.4845.
        np.testing.assert_allclose(maps.base[inside][:, :3], round(0.4845 * 255), atol=1)
        np.testing.assert_array_equal(maps.base[inside][:, 3], 255)
        np.testing.assert_allclose(maps.orm[inside][:, 1], 0.8 * 255, atol=1)
        np.testing.assert_array_equal(maps.orm[inside][:, 2], 0)
        np.testing.assert_allclose(maps.normal[inside][:, :3], [[128, 128, 255]] * int(inside.sum()), atol=1)

    def test_outside_the_charts_is_nothing(self) -> None:
        maps, _ = composed()
        _, grid = wall()
        self.assertFalse(maps.base[grid.faces < 0].any())

    def test_occlusion_is_kept_by_itself(self) -> None:
        maps, inside = composed(occlusion=0.25)
        np.testing.assert_allclose(maps.orm[inside][:, 0], 0.75 * 255, atol=1)

    def test_a_full_cover_hides_all_and_no_mask_hides_nothing(self) -> None:
        other = plain_tile(0.6, rough=0.3, metal=1.0)
        full, inside = composed([cover(1.0, other)])
        bare, _ = composed()
        np.testing.assert_allclose(full.orm[inside][:, 1], 0.3 * 255, atol=1)
        np.testing.assert_allclose(full.orm[inside][:, 2], 255, atol=1)
        none, _ = composed([cover(0.0, other)])
        np.testing.assert_array_equal(none.base, bare.base)
        np.testing.assert_array_equal(none.height, bare.height)

    def test_more_mask_never_uncovers(self) -> None:
        other = plain_tile(0.6)
        means = [composed([cover(m, other)])[0].base[..., 0].mean() for m in np.linspace(0, 1, 9)]
        self.assertTrue((np.diff(means) >= 0).all())

    def test_grading_darkens_tints_and_lies_under_covers(self) -> None:
        def shade(**how) -> np.ndarray:
            maps, inside = composed(**how)
            return ((maps.base[inside][:, :3] / 255.0) ** 2.2).mean(0)

        np.testing.assert_allclose(shade(grade=(0.5, 1, 1, 1, 0)), [0.1] * 3, atol=0.01)
        np.testing.assert_allclose(shade(grade=(1, 1, 0.5, 0, 1)), [0.2, 0.1, 0], atol=0.01)
        # Soft light with a grey of half to the eye changes nothing.
        np.testing.assert_allclose(shade(grade=(1, 0.25, 0.25, 0.25, -1)), [0.2] * 3, atol=0.01)
        self.assertGreater(shade(grade=(1, 0.8, 0.25, 0.25, -1))[0], 0.25)
        hidden = shade(covers=[cover(1, plain_tile(0.4))], grade=(0.5, 1, 1, 1, 0))
        np.testing.assert_allclose(hidden, [0.4] * 3, atol=0.02)

    def test_joints_fill_before_faces(self) -> None:
        pixels = plain_tile(0.2).pixels.copy()
        pixels[:, :8, 3], pixels[:, 8:, 3] = 0.05, 0.95
        maps, inside = composed([cover(0.5, plain_tile(0.8), joints=1.0)], tile=LaidTile(pixels, 0.8, 0.02, 0.0))
        values = maps.base[..., 0][inside]
        low, high = np.percentile(values, [10, 90])
        self.assertGreater(high - low, 80)
        heights = maps.height[inside]
        covered = values > (low + high) / 2
        # What is covered is the low half, raised by the cover but with no relief counted twice.
        self.assertLess(heights[covered].max(), 0.02 + 0.02 * 1.5 + 0.005)

    def test_relief_is_bounded_by_base_and_cover(self) -> None:
        maps, inside = composed([cover(1.0, plain_tile(0.5, height=1.0), thickness=0.03)] * 3)
        bare, _ = composed()
        self.assertGreater(maps.height[inside].min(), bare.height[inside].max())
        self.assertLess(maps.height[inside].max(), 0.01 + 3 * (0.045 + 0.005))

    def test_a_ramp_of_height_gives_its_slope_as_normals(self) -> None:
        pixels = plain_tile(0.3).pixels.copy()
        pixels = np.repeat(np.repeat(pixels, 4, 0), 4, 1)
        pixels[..., 3] = np.linspace(0, 1, 64, dtype=np.float32)[None, :]
        maps, inside = composed(tile=LaidTile(pixels, 3.2, 0.32, 0.0))
        core = maps.normal[inside].astype(float)
        # 32 cm over 3.2 m to the right: the normal leans to the left by atan(0.1).
        lean = np.median(core[:, 0]) / 255 * 2 - 1
        self.assertAlmostEqual(abs(lean), np.sin(np.arctan(0.1)), delta=0.02)
        self.assertAlmostEqual(np.median(core[:, 1]) / 255 * 2 - 1, 0, delta=0.01)

    def test_previews_have_the_same_colours(self) -> None:
        fine, _ = composed([cover(0.6, plain_tile(0.7))])
        quick, inside = composed([cover(0.6, plain_tile(0.7))], relief=False)
        np.testing.assert_array_equal(fine.base, quick.base)
        np.testing.assert_array_equal(quick.normal[inside][:, :3], [[128, 128, 255]] * int(inside.sum()))

    def test_shrinking_keeps_the_mean(self) -> None:
        dice = np.random.default_rng(0).random((64, 64, 6)).astype(np.float32)
        small = shrunk(LaidTile(dice, 1.0, 0.01, 0.0), 0.1)
        self.assertEqual(small.pixels.shape, (8, 8, 6))
        np.testing.assert_allclose(small.pixels.mean((0, 1)), dice.mean((0, 1)), atol=1e-5)


class CoverTests(unittest.TestCase):
    def test_a_new_place_is_clean(self) -> None:
        for made in COVERS:
            with self.subTest(made.__name__):
                self.assertEqual(made().look(Climate(years=0)).strength, 0)

    def test_years_and_damp_make_moss_grow(self) -> None:
        strengths = [Moss().look(Climate(years=y)).strength for y in (0, 5, 20, 60)]
        self.assertTrue((np.diff(strengths) > 0).all())
        self.assertEqual(Moss().look(Climate(damp=0)).strength, 0)
        self.assertGreater(Moss().look(Climate(damp=0.7)).strength, Moss().look(Climate(damp=0.3)).strength)

    def test_wet_dirt_is_darker(self) -> None:
        self.assertLess(Dirt().look(Climate(damp=1)).brightness, Dirt().look(Climate(damp=0)).brightness)

    def test_looks_keep_to_what_the_compositor_can_do(self) -> None:
        for made in COVERS:
            for years in (0, 50, 100):
                look = made().look(Climate(years=years, damp=1))
                self.assertGreaterEqual(look.strength, 0)
                self.assertGreater(look.softness, 0)
                self.assertTrue(0 <= look.joints <= 1)
            self.assertTrue(made.usual_where().cards)

    def test_dials_have_ends(self) -> None:
        with self.assertRaises(ValidationError):
            Climate(years=101)
