"""Materials: recipes tile without a seam, keep to what materials can have, and do what their layers say."""

from __future__ import annotations

import unittest

import numpy as np
from pydantic import ValidationError

from cenote.materials.base import GRAINED, MATERIALS
from cenote.materials.canvas import Canvas, blurred, enlarged, lattice, noise, plain_coordinates, warped
from cenote.materials.patterns.base import PATTERNS
from cenote.materials.patterns.cells import Cells
from cenote.materials.patterns.courses import Courses
from cenote.materials.patterns.flakes import Flakes
from cenote.materials.patterns.plain import Plain
from cenote.materials.patterns.relief import Relief
from cenote.materials.patterns.ridges import Ridges
from cenote.materials.patterns.scratches import Scratches
from cenote.materials.recipe import ColourUse, Drawn, GradeLayer, PatternLayer, Recipe, ValueUse
from cenote.materials.tile import relief_normals
from cenote.randomness import key_of

PIXELS = 256
KEY = key_of("test")


def seam(channel: np.ndarray) -> float:
    """The mean step across the tile's edges against the mean step inside it; near 1 where no seam is seen."""
    across = [np.abs(channel[:, 0] - channel[:, -1]).mean(), np.abs(channel[0] - channel[-1]).mean()]
    inside = [np.abs(np.diff(channel, axis=1)).mean(), np.abs(np.diff(channel, axis=0)).mean()]
    return max(a / max(b, 1e-9) for a, b in zip(across, inside, strict=True))


def canvas(size: float = 1.0, pixels: int = PIXELS) -> Canvas:
    """An empty tile."""
    return Canvas(pixels, size, 0, np.full((pixels, pixels), 0.5, np.float32))


def drawing(pattern, size: float = 1.0, pixels: int = PIXELS) -> np.ndarray:
    """A pattern on an empty tile."""
    return pattern.draw(canvas(size, pixels), *plain_coordinates(pixels), KEY)


def flat(value: float, **uses) -> PatternLayer:
    """A layer of an even grey."""
    return PatternLayer(drawn=Drawn(pattern=Plain(value=value)), **uses)


def colour_of(*layers) -> np.ndarray:
    """The colour of a tile whose layers are all even."""
    return Recipe(layers=layers).bake(16).albedo[3, 5]


class ShippedTests(unittest.TestCase):
    def test_there_are_the_materials_that_sites_need(self) -> None:
        wanted = {"brick", "plaster", "concrete", "cobble", "paving", "asphalt", "timber", "roof_tile", "iron", "bare_metal",
                  "rust", "soil", "sand", "gravel", "meadow", "moss", "snow", "bark", "leaf", "rock"}  # fmt: skip
        self.assertLessEqual(wanted, {material.kind for material in MATERIALS})
        for material in MATERIALS:
            self.assertTrue(material.help.endswith("."), material.kind)
        self.assertTrue(all(kind in MATERIALS for kind in GRAINED))

    def test_tiles_meet_themselves(self) -> None:
        for material in MATERIALS:
            with self.subTest(material.kind):
                tile = material.recipe.bake(PIXELS)
                # Joints along the edge of a tile are steps that belong there; a seam would be many times as large.
                for channel in (tile.height, tile.albedo.mean(2), tile.roughness):
                    if np.ptp(channel) > 1e-3:
                        self.assertLess(seam(channel), 6)

    def test_values_are_what_materials_can_have(self) -> None:
        for material in MATERIALS:
            with self.subTest(material.kind):
                tile = material.recipe.bake(PIXELS)
                self.assertEqual(tile.albedo.shape, (PIXELS, PIXELS, 3))
                self.assertTrue((tile.albedo >= 0.003).all() and (tile.albedo <= 0.92).all())
                for channel in (tile.height, tile.roughness, tile.metalness, tile.occlusion):
                    self.assertTrue((channel >= 0).all() and (channel <= 1).all())
                    self.assertEqual(channel.dtype, np.float32)
                self.assertEqual(tile.packed().shape, (PIXELS, PIXELS, 6))
                self.assertGreater(tile.albedo.std(), 0.001)

    def test_a_seed_is_a_variant(self) -> None:
        for kind in ("brick", "cobble", "timber"):
            recipe = MATERIALS[kind].recipe
            np.testing.assert_array_equal(recipe.bake(64, 1).albedo, recipe.bake(64, 1).albedo)
            self.assertGreater(np.abs(recipe.bake(64, 1).albedo - recipe.bake(64, 2).albedo).mean(), 0.005)

    def test_mortar_lies_lower_than_brick_and_bricks_differ(self) -> None:
        tile = MATERIALS["brick"].recipe.bake(512)
        joint = drawing(Courses(width=0.225, height=0.075, joint=0.012, bevel=0.004), 1.8, 512)
        self.assertGreater(tile.height[joint > 0.99].mean(), tile.height[joint < 0.01].mean() + 0.25)
        rows = np.arange(512) * 24 // 512
        tones = [tile.albedo[(rows == row)[:, None] & (joint > 0.99)].reshape(-1, 3).mean() for row in range(24)]
        self.assertGreater(np.std(tones) / np.mean(tones), 0.02)

    def test_metal_is_metal_and_timber_is_not(self) -> None:
        self.assertGreater(MATERIALS["bare_metal"].recipe.bake(64).metalness.mean(), 0.6)
        self.assertEqual(MATERIALS["timber"].recipe.bake(64).metalness.max(), 0)

    def test_the_number_of_pixels_does_not_change_what_is_seen(self) -> None:
        recipe = MATERIALS["cobble"].recipe
        small, large = recipe.bake(128).albedo, recipe.bake(512).albedo.reshape(128, 4, 128, 4, 3).mean((1, 3))
        self.assertGreater(np.corrcoef(small.ravel(), large.ravel())[0, 1], 0.8)


class PatternTests(unittest.TestCase):
    def test_all_stay_in_range_and_repeat(self) -> None:
        for kind in PATTERNS:
            with self.subTest(kind.__name__):
                grey = drawing(kind())
                self.assertEqual((grey.shape, grey.dtype), ((PIXELS, PIXELS), np.float32))
                self.assertTrue((grey >= 0).all() and (grey <= 1).all())
                x, y = plain_coordinates(PIXELS)
                again = kind().draw(canvas(), x + 1, y - 1, KEY)
                self.assertLess(np.abs(again - grey).mean(), 0.01)

    def test_noise_is_even_on_average_and_repeats(self) -> None:
        x, y = plain_coordinates(128)
        for shape in ("soft", "ridged", "billowed"):
            grey = noise(x, y, 6, 5, 4, 0.5, shape, KEY)
            self.assertAlmostEqual(grey.mean(), 0.5, delta=0.16)
            self.assertGreater(grey.std(), 0.08)
            np.testing.assert_allclose(noise(x + 1, y - 2, 6, 5, 4, 0.5, shape, KEY), grey, atol=1e-3)

    def test_wide_octaves_on_fewer_pixels_look_the_same(self) -> None:
        # Above 511 pixels wide octaves are drawn on a sixteenth of them.
        fine = noise(*plain_coordinates(1024), 4, 4, 6, 0.5, "soft", KEY)
        coarse = noise(*plain_coordinates(256), 4, 4, 6, 0.5, "soft", KEY)
        np.testing.assert_allclose(fine.reshape(256, 4, 256, 4).mean((1, 3)), coarse, atol=0.05)

    def test_courses_are_as_wide_as_said_and_every_other_row_is_shifted(self) -> None:
        wall = drawing(Courses(width=0.25, height=0.125, joint=0.02, bevel=0.0005), 1.0, 400)
        self.assertAlmostEqual((wall < 0.5).mean(), 1 - (0.23 / 0.25) * (0.105 / 0.125), delta=0.02)
        joints = [np.flatnonzero(wall[row, :-1] > wall[row, 1:] + 0.5) for row in (25, 75)]
        self.assertEqual(len(joints[0]), 4)
        self.assertAlmostEqual((joints[1][0] - joints[0][0]) % 100, 50, delta=1)

    def test_each_piece_has_one_tone(self) -> None:
        tones = drawing(Courses(width=0.25, height=0.25, reads="tone"))
        self.assertEqual(len(np.unique(tones)), 16)
        self.assertEqual(len(np.unique(drawing(Cells(size=0.125, reads="tone")))), 64)

    def test_tiles_rise_towards_their_lower_edge(self) -> None:
        roof = drawing(Courses(width=0.5, height=0.5, joint=0.0, bevel=0.01, shift=0, reads="overlap"))
        middle = roof[:128, 64]
        self.assertTrue((np.diff(middle[4:118]) > 0).all())
        self.assertLess(middle[127], 0.5)

    def test_cells_fill_the_tile_but_for_their_gaps(self) -> None:
        tight, wide = (drawing(Cells(size=0.1, gap=gap)).mean() for gap in (0.001, 0.03))
        self.assertGreater(tight, 0.93)
        self.assertLess(wide, 0.65)
        dome = drawing(Cells(size=0.1, gap=0.01, reads="dome"))
        self.assertAlmostEqual(dome.max(), 1, delta=0.02)
        self.assertLess(drawing(Cells(size=0.1, rounded=1)).mean(), drawing(Cells(size=0.1)).mean())

    def test_flakes_lie_as_densely_as_said(self) -> None:
        none, some, all_ = (drawing(Flakes(spread=0.05, share=share, reads="shape")).mean() for share in (0, 0.4, 1))
        self.assertEqual(none, 0)
        self.assertLess(some, all_)
        slim = drawing(Flakes(spread=0.05, slim=0.95, reads="shape")).mean()
        self.assertLess(slim, all_ / 2)

    def test_scratches_and_ridges_run_as_said(self) -> None:
        lines = drawing(Scratches(spread=0.1, width=0.01, aligned=1))
        along, across = np.abs(np.diff(lines, axis=1)).mean(), np.abs(np.diff(lines, axis=0)).mean()
        self.assertLess(along, across / 2)
        wave = drawing(Ridges(spread=0.25))
        self.assertEqual(np.ptp(wave, axis=0).max(), 0)
        self.assertEqual(int((np.diff((wave[0] > 0.5).astype(int)) == 1).sum()), 4)

    def test_the_relief_below_is_read_back(self) -> None:
        bump = canvas()
        bump.height = drawing(Ridges(spread=0.5, profile="bar"))
        edges = Relief(reads="edges", radius=0.02).draw(bump, *plain_coordinates(PIXELS), KEY)
        hollows = Relief(reads="hollows", radius=0.02).draw(bump, *plain_coordinates(PIXELS), KEY)
        self.assertGreater(edges[bump.height > 0.9].mean(), 5 * edges[bump.height < 0.1].mean())
        self.assertGreater(hollows[bump.height < 0.1].mean(), 5 * hollows[bump.height > 0.9].mean())

    def test_helpers_wrap(self) -> None:
        picture = lattice((64, 64), KEY)
        self.assertLess(seam(blurred(picture, 8)), 2.5)
        self.assertLess(seam(enlarged(picture[::8, ::8].copy(), 64)), 2.5)
        self.assertAlmostEqual(blurred(picture, 30).mean(), picture.mean(), delta=1e-3)
        x, y = warped(canvas(), 0.1, 0.3, KEY)
        plain = plain_coordinates(PIXELS)
        self.assertGreater(np.abs(x - plain[0]).max(), 0.02)
        self.assertLess(np.hypot(x - plain[0], y - plain[1]).max(), 0.3)


class LayerTests(unittest.TestCase):
    def test_blend_modes_have_their_known_results(self) -> None:
        below = flat(1, colour=ColourUse(low=(0, 0, 0), high=(0.25, 0.25, 0.25)))

        def over(blend: str, value: float) -> float:
            return float(colour_of(below, flat(1, colour=ColourUse(high=(value,) * 3, blend=blend)))[0])

        # Screen, soft light and overlay work on square roots: 0.25 is a grey of 0.5 to the eye.
        for blend, value, wanted in (("normal", 0.4, 0.4), ("add", 0.4, 0.65), ("multiply", 0.4, 0.1), ("max", 0.4, 0.4),
                                     ("min", 0.4, 0.25), ("screen", 0.25, 0.75**2), ("soft light", 0.25, 0.25),
                                     ("soft light", 0.81, (0.25 * (1 - 1.8) + 1.8 * 0.5) ** 2),
                                     ("overlay", 0.25, 0.25)):  # fmt: skip
            with self.subTest(blend, value=value):
                self.assertAlmostEqual(over(blend, value), wanted, places=4)

    def test_opacity_and_mask_hold_a_layer_back(self) -> None:
        white = ColourUse(low=(0, 0, 0), high=(0.8, 0.8, 0.8))
        base = flat(0, colour=ColourUse(low=(0.2, 0.2, 0.2)))
        self.assertAlmostEqual(colour_of(base, flat(1, colour=white, opacity=0.5))[1], 0.5, places=4)
        self.assertAlmostEqual(
            colour_of(base, flat(1, colour=white, mask=Drawn(pattern=Plain(value=0))))[1], 0.2, places=4
        )
        hidden = flat(1, colour=white, shown=False)
        self.assertAlmostEqual(colour_of(base, hidden)[1], 0.2, places=4)
        for shows, wanted in (("everywhere", 0.4), ("by brightness", 0.3), ("by shape", 0.4)):
            self.assertAlmostEqual(colour_of(base, flat(0.5, colour=white, shows=shows))[1], wanted, places=4)

    def test_levels_and_inversion(self) -> None:
        self.assertEqual(Drawn(pattern=Plain(value=0.4), levels=(0.2, 0.6)).draw(canvas())[0, 0], 0.5)
        self.assertAlmostEqual(Drawn(pattern=Plain(value=0.3), inverted=True).draw(canvas())[0, 0], 0.7, places=6)

    def test_grading(self) -> None:
        red = flat(1, colour=ColourUse(high=(0.4, 0.2, 0.1)))
        np.testing.assert_allclose(colour_of(red, GradeLayer(brightness=0.5)), [0.2, 0.1, 0.05], atol=1e-4)
        grey = colour_of(red, GradeLayer(saturation=0))
        np.testing.assert_allclose(grey, np.full(3, 0.2126 * 0.4 + 0.7152 * 0.2 + 0.0722 * 0.1), atol=1e-4)
        tinted = colour_of(red, GradeLayer(tint=(1, 0.5, 0), tinted=1))
        np.testing.assert_allclose(tinted, [0.4, 0.1, 0.004], atol=1e-4)
        np.testing.assert_allclose(colour_of(red, GradeLayer(levels=(0, 0.5))), [0.8, 0.4, 0.2], atol=1e-4)

    def test_edges_become_bright(self) -> None:
        bars = PatternLayer(drawn=Drawn(pattern=Ridges(spread=0.5, profile="bar")), relief=ValueUse())
        tile = Recipe(layers=(bars, GradeLayer(edge_brightening=1, edge_width=0.02)), size=1).bake(256)
        top = tile.height > 0.9
        near = top & (blurred(tile.height, 4) < 0.9)
        self.assertGreater(tile.albedo[near].mean(), 1.1 * tile.albedo[top & ~near].mean())

    def test_hollows_are_less_open(self) -> None:
        bars = PatternLayer(drawn=Drawn(pattern=Ridges(spread=0.25, profile="bar")), relief=ValueUse())
        tile = Recipe(layers=(bars,), size=1, depth=0.2).bake(256)
        self.assertLess(tile.occlusion[tile.height < 0.1].mean(), tile.occlusion[tile.height > 0.9].mean() - 0.1)

    def test_bad_recipes_are_told_by_field(self) -> None:
        with self.assertRaisesRegex(ValidationError, "layers"):
            Recipe(layers=())
        with self.assertRaisesRegex(ValidationError, "size"):
            Recipe(layers=(flat(1),), size=1e6)
        with self.assertRaisesRegex(ValidationError, "least"):
            Drawn(levels=(0.8, 0.2))
        with self.assertRaisesRegex(ValueError, "power of two"):
            Recipe(layers=(flat(1),)).bake(100)
        with self.assertRaisesRegex(ValueError, "4096"):
            Recipe(layers=(flat(1),)).bake(8192)

    def test_normals_of_a_slope(self) -> None:
        # One metre of depth over a tile of one metre: 45 degrees, rising to the right.
        height = np.tile(np.linspace(0, 1, 64, endpoint=False, dtype=np.float32), (64, 1))
        normal = relief_normals(height, 1.0, 1.0)[32, 32]
        np.testing.assert_allclose(normal, [-np.sqrt(0.5), 0, np.sqrt(0.5)], atol=1e-5)
