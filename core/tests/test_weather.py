"""Covers, the climate that they answer to, and the compositor."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from pydantic import ValidationError

from cenote.geometry.charts import charted
from cenote.geometry.mesh import Mesh
from cenote.geometry.texels import texel_grid
from cenote.materials.base import MATERIALS, NATURES
from cenote.weather.base import COVERS, CoverLook, Film, natures
from cenote.weather.climate import Climate, Conditions
from cenote.weather.compose import LaidCover, Maps, compose
from cenote.weather.dirt import Dirt
from cenote.weather.moss import Moss
from cenote.weather.peeling import Peeling
from cenote.weather.puddles import Puddles
from cenote.weather.rust import Rust
from cenote.weather.snow import Snow
from cenote.weather.soaking import ABOVE, BELOW, wet_share
from cenote.weather.tiles import LaidTile, film_tile, shrunk
from cenote.weather.wet_edge import WetEdge
from cenote.weather.wetness import Wetness

SIDE, CELL = 0.8, 0.1


def plain_tile(grey: float, height: float = 0.5, rough: float = 0.8, metal: float = 0.0) -> LaidTile:
    """A tile of one value, 1 m wide with 1 cm of relief."""
    pixel = np.array([grey, grey, grey, height, rough, metal], np.float32)
    return LaidTile.of(np.broadcast_to(pixel, (16, 16, 6)).copy(), 1.0, 0.01, 0.0)


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
    mask: float, tile: LaidTile, joints: float = 0.0, softness: float = 0.25, thickness: float = 0.02, **more
) -> LaidCover:
    """A cover with one mask value everywhere."""
    _, grid = wall()
    look = CoverLook("any", 1.0, joints=joints, softness=softness, thickness=thickness, **more)
    return LaidCover((tile,), np.full(grid.faces.shape, mask, np.float32), look)


class InterplayTests(unittest.TestCase):
    def test_a_puddle_has_a_wet_and_silty_margin_outside_its_edge(self) -> None:
        """A ramp of relief: what lies just above the water is darker or browner than what is far from it."""
        ramp = np.tile(np.linspace(0, 1, 64, dtype=np.float32), (64, 1))
        pixels = np.dstack([*[np.full((64, 64), 0.3, np.float32)] * 3, ramp, np.full((64, 64), 0.9, np.float32),
                            np.zeros((64, 64), np.float32)])  # fmt: skip
        tile = LaidTile.of(np.ascontiguousarray(pixels, np.float32), SIDE, 0.02, 0.0)
        given = {"joints": 1.0, "softness": 0.05, "thickness": 0.0, "opacity": 0.3, "soak": 0.9, "gloss": 1.0}
        silt = (0.16, 0.1, 0.05)
        film = film_tile(Film((0.04, 0.04, 0.03), 0.04))
        dry, inside = composed([cover(0.4, film, **given)], tile=tile)
        rimmed, _ = composed([cover(0.4, film, rim=0.3, silt=silt, **given)], tile=tile)
        change = np.abs(rimmed.base[..., :3].astype(int) - dry.base[..., :3]).sum(2)
        water = (dry.orm[..., 1] < 60) & inside
        margin = (change > 6) & inside & ~water
        self.assertGreater(margin.sum(), 50)
        self.assertLess(margin.sum(), (inside & ~water).sum() * 0.7)
        red, blue = (rimmed.base[..., k][margin].mean() for k in (0, 2))
        self.assertGreater(red, blue + 3)
        self.assertTrue(rimmed.base[..., :3][margin].mean() < dry.base[..., :3][margin].mean())

    def test_rust_waits_for_bared_metal(self) -> None:
        rust = cover(1.0, plain_tile(0.02))
        waiting = replace(rust, waits=np.array([1.0]))
        bare = cover(1.0, plain_tile(0.6), joints=-1.0, softness=0.05, thickness=-0.004)
        alone, inside = composed([waiting])
        untouched, _ = composed()
        np.testing.assert_array_equal(alone.base[inside], untouched.base[inside])
        over, _ = composed([bare, waiting])
        free, _ = composed([bare, rust])
        np.testing.assert_array_equal(over.base[inside], free.base[inside])
        half, _ = composed([replace(rust, waits=np.array([0.5]))])
        self.assertFalse(np.array_equal(half.base[inside], untouched.base[inside]))


class ComposeTests(unittest.TestCase):
    def test_bare_material_is_encoded_as_srgb(self) -> None:
        maps, inside = composed()
        # IEC 61966-2-1: linear 0.2 is 0.4845.
        np.testing.assert_allclose(maps.base[inside][:, :3], round(0.4845 * 255), atol=1)
        np.testing.assert_array_equal(maps.base[inside][:, 3], 255)
        np.testing.assert_allclose(maps.orm[inside][:, 1], 0.8 * 255, atol=1)
        np.testing.assert_array_equal(maps.orm[inside][:, 2], 0)
        np.testing.assert_allclose(maps.normal[inside][:, :3], [[128, 128, 255]] * int(inside.sum()), atol=1)

    def test_outside_the_charts_is_the_average_without_alpha(self) -> None:
        """So that smaller copies of a texture, which are read where it is seen from aslant, do not darken at seams."""
        maps, inside = composed()
        _, grid = wall()
        outside = grid.faces < 0
        self.assertFalse(maps.base[outside][:, 3].any())
        for pixels in (maps.base, maps.orm):
            mean = pixels[inside][:, :3].mean(0)
            np.testing.assert_allclose(pixels[outside][:, :3], np.tile(mean, (outside.sum(), 1)), atol=2)
        np.testing.assert_array_equal(maps.normal[outside][:, :3], np.tile([128, 128, 255], (outside.sum(), 1)))

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
        maps, inside = composed([cover(0.5, plain_tile(0.8), joints=1.0)], tile=LaidTile.of(pixels, 0.8, 0.02, 0.0))
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
        maps, inside = composed(tile=LaidTile.of(pixels, 3.2, 0.32, 0.0))
        core = maps.normal[inside].astype(float)
        # 32 cm over 3.2 m to the right: the normal leans to the left by atan(0.1).
        lean = np.median(core[:, 0]) / 255 * 2 - 1
        self.assertAlmostEqual(abs(lean), np.sin(np.arctan(0.1)), delta=0.02)
        self.assertAlmostEqual(np.median(core[:, 1]) / 255 * 2 - 1, 0, delta=0.01)

    def test_previews_have_the_same_colours(self) -> None:
        fine, _ = composed([cover(0.6, plain_tile(0.7))])
        quick, inside = composed([cover(0.6, plain_tile(0.7))], relief=False)
        np.testing.assert_array_equal(fine.base[inside], quick.base[inside])
        np.testing.assert_array_equal(quick.normal[inside][:, :3], [[128, 128, 255]] * int(inside.sum()))

    def test_shrinking_keeps_the_mean(self) -> None:
        dice = np.random.default_rng(0).random((64, 64, 6)).astype(np.float32)
        small = shrunk(LaidTile.of(dice, 1.0, 0.01, 0.0), 0.1)
        self.assertEqual(small.pixels.shape, (8, 8, 6))
        np.testing.assert_allclose(small.pixels.mean((0, 1)), dice.mean((0, 1)), atol=1e-5)


def halves(low: float = 0.05, high: float = 0.95, rough: float = 0.9) -> LaidTile:
    """A tile whose left half lies low and right half high, with 2 cm between lowest and highest."""
    pixels = plain_tile(0.3, rough=rough).pixels.copy()
    pixels[:, :8, 3], pixels[:, 8:, 3] = low, high
    return LaidTile.of(pixels, 0.8, 0.02, 0.0)


class KindsOfCoverTests(unittest.TestCase):
    """What covers do besides lying on top: soak, shine, level, bare, keep off."""

    def linear(self, maps: Maps, inside: np.ndarray) -> np.ndarray:
        return (maps.base[inside][:, :3] / 255.0) ** 2.2

    def test_a_film_hides_by_its_opacity(self) -> None:
        film = film_tile(Film((0.0, 0.0, 0.0), 0.4))
        for opacity in (0.0, 0.25, 1.0):
            maps, inside = composed([cover(1.0, film, thickness=0, opacity=opacity)])
            np.testing.assert_allclose(self.linear(maps, inside), 0.2 * (1 - opacity), atol=0.006)
            np.testing.assert_allclose(maps.orm[inside][:, 1] / 255, 0.8 + opacity * (0.4 - 0.8), atol=0.005)

    def test_water_darkens_what_is_porous_and_shines_on_all(self) -> None:
        wet = cover(1.0, film_tile(Film((0, 0, 0), 0.1)), thickness=0, opacity=0.0, soak=1.0, gloss=1.0)
        stone, inside = composed([wet])
        np.testing.assert_allclose(self.linear(stone, inside), 0.2 * wet_share(0.2), atol=0.004)
        np.testing.assert_allclose(stone.orm[inside][:, 1], 0.06 * 255, atol=1)
        for tile in (plain_tile(0.2, rough=0.2), plain_tile(0.2, metal=1.0)):
            glazed, inside = composed([wet], tile=tile)
            np.testing.assert_allclose(self.linear(glazed, inside), 0.2, atol=0.006)

    def test_wet_things_lose_what_the_film_sends_back_down(self) -> None:
        for albedo in (0.05, 0.2, 0.4, 0.6, 1.0):
            # Light goes in, is sent back by the ground, and leaves or comes down again, time after time.
            inside, left = 1 - float(ABOVE), 0.0
            for _ in range(200):
                risen = inside * albedo
                left, inside = left + risen * (1 - float(BELOW)), risen * float(BELOW)
            self.assertAlmostEqual(float(wet_share(np.float32(albedo))), left / albedo, places=5)
        self.assertTrue(0.49 < wet_share(np.float32(0.0)) < wet_share(np.float32(0.6)) < 0.69)

    def test_bared_places_lie_a_coat_lower_and_high_ones_first(self) -> None:
        bare = cover(0.5, plain_tile(0.7), joints=-1.0, softness=0.05, thickness=-0.004)
        maps, inside = composed([bare], tile=halves())
        coated, _ = composed(tile=halves())
        fell = coated.height[inside] - maps.height[inside]
        pale = self.linear(maps, inside)[:, 0] > 0.5
        self.assertTrue(0.3 < pale.mean() < 0.7)
        np.testing.assert_allclose(fell[pale].max(), 0.004, atol=1e-3)
        np.testing.assert_allclose(fell[~pale].min(), 0, atol=1e-6)
        self.assertGreater(coated.height[inside][pale].mean(), coated.height[inside][~pale].mean())

    def test_water_fills_the_low_places_to_one_level(self) -> None:
        pixels = np.repeat(np.repeat(plain_tile(0.3).pixels, 8, 0), 8, 1).copy()
        pixels[..., 3] = np.linspace(0, 1, 128, dtype=np.float32)[None, :]
        ramp = LaidTile.of(pixels, 0.8, 0.02, 0.0)
        pool = cover(
            0.5, film_tile(Film((0, 0, 0), 0.05)), joints=1.0, softness=0.02, thickness=0, opacity=0.3, flattens=1.0
        )
        maps, inside = composed([pool], tile=ramp)
        dry, _ = composed(tile=ramp)
        before, after = dry.height[inside], maps.height[inside]
        under = before < 0.009
        np.testing.assert_allclose(after[under], 0.01, atol=3e-4)
        np.testing.assert_allclose(after[before > 0.0115], before[before > 0.0115], atol=1e-6)
        # As much water as it takes to fill the ramp to the middle: a quarter of the relief over half of the width.
        self.assertAlmostEqual(float((after - before).mean()), 0.02 / 8, delta=3e-4)

    def test_snow_rounds_what_it_lies_on(self) -> None:
        look = Snow().look(Conditions(snow=0.1))
        _, grid = wall()
        tile = plain_tile(0.8, height=0.5)
        laid = LaidCover((tile,), np.ones(grid.faces.shape, np.float32), look)
        maps, inside = composed([laid], tile=halves())
        bare, _ = composed(tile=halves())
        self.assertLess(np.ptp(maps.height[inside]), 0.5 * np.ptp(bare.height[inside]))
        self.assertGreater((maps.height - bare.height)[inside].min(), 0)

    def test_a_cover_keeps_off_what_it_does_not_sit_on(self) -> None:
        atlas, grid = wall()
        fields = (
            np.zeros((atlas.height, atlas.width), np.float32),
            np.full((atlas.height, atlas.width), 0.5, np.float32),
        )
        mask = np.ones(grid.faces.shape, np.float32)
        laid = LaidCover((plain_tile(0.8), plain_tile(0.05)), mask, CoverLook("any", 1.0), np.array([1.0, 0.0]))
        grades = np.tile(np.array([1, 1, 1, 1, 0], np.float32), (2, 1))
        tiles = [plain_tile(0.2), plain_tile(0.2)]
        maps = compose(atlas, grid, tiles, np.array([0, 1], np.int32), grades, [laid], *fields)
        for face, shade in ((0, 0.8), (1, 0.2)):
            np.testing.assert_allclose(self.linear(maps, grid.faces == face), shade, atol=0.02)
        other = LaidCover(laid.tiles, mask, laid.look, np.array([1.0, 1.0]))
        maps = compose(atlas, grid, tiles, np.array([0, 1], np.int32), grades, [other], *fields)
        np.testing.assert_allclose(self.linear(maps, grid.faces == 1), 0.05, atol=0.01)

    def test_a_tint_multiplies_or_shifts(self) -> None:
        grey = plain_tile(0.5)
        red, inside = composed([cover(1.0, grey, tint=(1.0, 0.2, 0.2), tinted=1.0)])
        np.testing.assert_allclose(self.linear(red, inside).mean(0), [0.5, 0.1, 0.1], atol=0.01)
        same, _ = composed([cover(1.0, grey, tint=(0.25, 0.25, 0.25), tinted=-1.0)])
        np.testing.assert_allclose(self.linear(same, inside).mean(0), [0.5] * 3, atol=0.01)

    def test_no_map_leaves_what_materials_can_have(self) -> None:
        stack = []
        for made in COVERS:
            look = made(amount=3, brightness=2).look(Conditions(years=100, damp=1, snow=1, season=1))
            tile = film_tile(look.of) if isinstance(look.of, Film) else plain_tile(0.9, metal=1.0)
            _, grid = wall()
            stack.append(LaidCover((tile,), np.ones(grid.faces.shape, np.float32), look))
        for covers in [[one] for one in stack] + [stack]:
            maps, inside = composed(covers, tile=halves())
            self.assertTrue(np.isfinite(maps.height).all())
            self.assertLess(np.abs(maps.height).max(), 0.6)
            normal = maps.normal[inside][:, :3] / 127.5 - 1
            np.testing.assert_allclose(np.linalg.norm(normal, axis=1), 1, atol=0.03)
            self.assertTrue((maps.orm[inside][:, 1] >= 0.03 * 255 - 1).all())


class CoverTests(unittest.TestCase):
    def test_a_new_place_is_clean(self) -> None:
        # What stands in water is wet from the first day.
        for made in COVERS:
            with self.subTest(made.__name__):
                self.assertEqual(made().look(Conditions(years=0)).strength > 0, made is WetEdge)

    def test_years_and_damp_make_moss_grow(self) -> None:
        strengths = [Moss().look(Conditions(years=y)).strength for y in (0, 5, 20, 60)]
        self.assertTrue((np.diff(strengths) > 0).all())
        self.assertEqual(Moss().look(Conditions(damp=0)).strength, 0)

    def test_moss_holds_water_while_what_is_round_it_is_dry(self) -> None:
        dry, damp, wet = (Conditions(damp=damp) for damp in (0.25, 0.6, 1))
        self.assertEqual(Wetness().look(damp).strength, 0)
        looks = [Moss().look(climate) for climate in (dry, damp, wet)]
        for rises in ([one.soak for one in looks], [one.gloss for one in looks], [-one.brightness for one in looks]):
            self.assertTrue((np.diff(rises) > 0).all())
        self.assertGreater(Moss().look(Conditions(damp=0.7)).strength, Moss().look(Conditions(damp=0.3)).strength)

    def test_each_dial_has_its_covers(self) -> None:
        def strengths(**climate) -> dict[str, float]:
            return {made.__name__: made().look(Conditions(**climate)).strength for made in COVERS}

        snowed, bare = strengths(years=0, snow=0.2), strengths(years=0)
        self.assertEqual({name for name in snowed if snowed[name] > bare[name]}, {"Snow", "Frost"})
        wet = strengths(years=0, damp=0.95)
        self.assertEqual(
            {name for name in wet if wet[name] > bare[name]}, {"Wetness", "WetEdge", "Puddles", "MistFilm"}
        )
        old = strengths(years=40)
        self.assertLess(
            {name for name in old if old[name] == 0}, {"Snow", "Frost", "Wetness", "Puddles", "Soot", "MistFilm"}
        )

    def test_rain_wets_however_dry_the_place_is(self) -> None:
        dry, drizzle, shower, downpour = (Conditions(damp=0.2, rain=rain) for rain in (0, 1, 4, 60))
        self.assertEqual(Wetness().look(dry).strength, 0)
        for made in (Wetness, Puddles):
            strengths = [made().look(now).strength for now in (dry, drizzle, shower, downpour)]
            self.assertTrue((np.diff(strengths) > 0).all(), made)
        self.assertEqual([made for made in COVERS if made.of_rain], [Wetness])
        soaked = Conditions(damp=1)
        self.assertEqual(Wetness().look(downpour).strength, Wetness().look(soaked).strength)
        self.assertEqual(Moss().look(downpour).strength, Moss().look(dry).strength)

    def test_what_sits_on_what(self) -> None:
        self.assertEqual(Moss.sits_on["glass"], 0)
        self.assertEqual({nature for nature, holds in Rust.sits_on.items() if holds}, {"metal", "painted metal"})
        self.assertFalse({"stone", "glass", "metal"} & {nature for nature, holds in Peeling.sits_on.items() if holds})
        look = Peeling().look(Conditions(years=50))
        self.assertEqual([look.material_on(n) for n in ("painted timber", "painted metal", "plaster")],
                         ["planed_timber", "rust", "brick"])  # fmt: skip
        with self.assertRaises(ValueError):
            natures(wood=1)

    def test_grading_is_laid_over_any_cover(self) -> None:
        plain = Moss().look(Conditions())
        graded = Moss(brightness=0.5, tint=(1, 0, 0), tinted=50, blend="multiply", amount=2).look(Conditions())
        self.assertEqual((graded.tinted, graded.tint), (0.5, (1, 0, 0)))
        self.assertAlmostEqual(graded.brightness, plain.brightness * 0.5)
        self.assertAlmostEqual(graded.strength, 2 * plain.strength)
        self.assertEqual(Moss(tinted=50).look(Conditions()).tinted, -0.5)

    def test_puddles_and_wetness_need_damp(self) -> None:
        for made in (Puddles, Wetness):
            strengths = [made().look(Conditions(damp=damp)).strength for damp in (0.5, 0.8, 1.0)]
            self.assertEqual(strengths[0], 0)
            self.assertLess(strengths[1], strengths[2])

    def test_what_stands_in_water_is_wet_on_a_dry_day_too(self) -> None:
        dry, damp = (WetEdge().look(Conditions(damp=damp)).strength for damp in (0.0, 1.0))
        self.assertGreater(dry, 0.5)
        self.assertGreater(damp, dry)

    def test_wet_dirt_is_darker(self) -> None:
        self.assertLess(Dirt().look(Conditions(damp=1)).brightness, Dirt().look(Conditions(damp=0)).brightness)

    def test_looks_keep_to_what_the_compositor_can_do(self) -> None:
        for made in COVERS:
            for years in (0, 50, 100):
                look = made().look(Conditions(years=years, damp=1))
                self.assertGreaterEqual(look.strength, 0)
                self.assertGreater(look.softness, 0)
                self.assertTrue(-1 <= look.joints <= 1)
                for share in (look.opacity, look.soak, look.gloss, look.flattens):
                    self.assertTrue(0 <= share <= 1)
                for of in (look.of, *look.instead.values()):
                    self.assertTrue(isinstance(of, Film) or of in MATERIALS)
            self.assertEqual(set(made.sits_on), set(NATURES))
            self.assertTrue(made.usual_where().cards)

    def test_dials_have_ends(self) -> None:
        with self.assertRaises(ValidationError):
            Climate(years=101)
