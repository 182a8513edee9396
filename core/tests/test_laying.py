"""Tiles laid over wide planes: no repeat is seen, pieces stay whole, and what they come to on average stays."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from cenote.materials.base import MATERIALS
from cenote.materials.laid import Pieces
from cenote.materials.tile import PIXELS
from cenote.weather.tiles import LaidTile, baked, laid_out, shrunk

# The plane is so many tiles wide, at so many texels a tile.
_TILES, _TEXELS = 11, 64


def laid(kind: str) -> LaidTile:
    """A shipped material, at 128 pixels."""
    tile = baked(MATERIALS[kind].recipe)
    return shrunk(tile, tile.size / 128)


def likeness(grey: np.ndarray, down: int, right: int) -> float:
    """The correlation of a picture with itself moved by some texels."""
    one = grey[: len(grey) - down, : grey.shape[1] - right].ravel()
    return float(np.corrcoef(one, grey[down:, right:].ravel())[0, 1])


def plane(tile: LaidTile) -> np.ndarray:
    """Its brightness over many tiles, float32 (n, n)."""
    n = _TILES * _TEXELS
    return laid_out(tile, tile.size / _TEXELS, n, n)[..., :3].mean(-1)


class Repeats(unittest.TestCase):
    def test_no_tile_is_recognised_in_what_is_wide(self) -> None:
        """Moved by the side of its tile, a plane is no more like itself than moved by another way that fits its courses."""
        kinds = [one.kind for one in MATERIALS if one.recipe.laying != "repeated"]
        self.assertGreater(len(kinds), 25)
        for kind in kinds:
            with self.subTest(kind):
                tile = laid(kind)
                grey, many = plane(tile), _TEXELS
                if tile.laying == "by piece":
                    assert tile.pieces
                    rows = 2 * round(tile.pieces.rows / 4)
                    other = likeness(grey, round(many * rows / tile.pieces.rows), 0)
                    across = likeness(grey, 0, round(many * max(1, tile.pieces.columns // 2) / tile.pieces.columns))
                else:
                    other = across = 0.0
                self.assertLess(likeness(grey, many, 0), max(other, 0) + 0.15)
                self.assertLess(likeness(grey, 0, many), max(across, 0) + 0.15)
                self.assertGreater(likeness(plane(replace(tile, laying="repeated")), many, 0), 0.99)

    def test_what_it_comes_to_stays(self) -> None:
        for one in MATERIALS:
            with self.subTest(one.kind):
                tile = laid(one.kind)
                over = laid_out(tile, tile.size / 150, 750, 750).mean((0, 1))
                np.testing.assert_allclose(over, tile.pixels.mean((0, 1)), atol=0.02, rtol=0.06)


class ByPiece(unittest.TestCase):
    def test_pieces_are_whole_and_drawn_by_lot(self) -> None:
        """Each piece of a tile in its own grey: between two joints of the plane there is one grey, and all of them occur."""
        rows, columns, n = 4, 4, 128
        greys = (np.arange(rows * columns) + 1) / 20
        pixels = np.zeros((n, n, 6), np.float32)
        pixels[...] = np.repeat(np.repeat(greys.reshape(rows, columns), n // rows, 0), n // columns, 1)[..., None]
        spans = np.column_stack([np.tile(np.arange(columns), rows), np.ones(rows * columns)]) / columns
        tile = LaidTile.of(pixels, 1, 0.01, 0, "by piece", Pieces(rows, columns, 0.5, 0, spans.astype(np.float32)))
        found = laid_out(tile, 1 / 64, 640, 640)[..., 0]
        seen = set()
        for row in range(40):
            for column in range(1, 39):
                piece = found[
                    16 * row + 2 : 16 * row + 14, 16 * column - 8 * (row % 2) + 2 : 16 * column - 8 * (row % 2) + 14
                ]
                self.assertLess(np.ptp(piece), 1e-4)
                seen.add(round(float(piece.mean()) * 20))
        self.assertEqual(seen, set(range(1, 17)))

    def test_joints_of_a_plane_are_as_wide_as_those_of_its_tile(self) -> None:
        for kind in ("brick", "ashlar", "paving", "slate", "timber"):
            with self.subTest(kind):
                tile = baked(MATERIALS[kind].recipe)
                low = np.quantile(tile.pixels[..., 3], 0.5) * 0.6
                step = tile.size / PIXELS
                over = laid_out(tile, step, 2 * PIXELS, 2 * PIXELS)[..., 3]
                self.assertAlmostEqual((over < low).mean(), (tile.pixels[..., 3] < low).mean(), delta=0.025)

    def test_without_courses_a_tile_is_repeated(self) -> None:
        tile = replace(laid("meadow"), laying="by piece", pieces=None)
        grey = plane(tile)
        self.assertGreater(likeness(grey, _TEXELS, 0), 0.99)


class Finer(unittest.TestCase):
    def test_what_is_baked_finer_adds_only_what_is_finer(self) -> None:
        for kind in ("brick", "plaster", "soil", "timber"):
            with self.subTest(kind):
                recipe = MATERIALS[kind].recipe
                usual, fine = recipe.bake(PIXELS).packed(), recipe.bake(2 * PIXELS).packed()
                down = fine.reshape(PIXELS, 2, PIXELS, 2, 6).mean((1, 3))
                blocks = [one.reshape(64, 8, 64, 8, 6).mean((1, 3)) for one in (usual, down)]
                self.assertGreater(np.corrcoef(blocks[0][..., 0].ravel(), blocks[1][..., 0].ravel())[0, 1], 0.97)
                self.assertLess(np.abs(blocks[0] - blocks[1]).mean(), 0.012)
                # And it does add: neighbours differ by what the usual pixels cannot show.
                apart = (fine[::2] - fine[1::2])[..., :3]
                self.assertGreater(np.abs(apart).mean(), 0.002)
