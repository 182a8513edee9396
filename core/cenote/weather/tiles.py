"""Material tiles ready for the compositor."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ..colour import srgb_bytes
from ..materials.laid import Laying, Pieces
from ..materials.recipe import Recipe
from ..materials.tile import PIXELS, relief_normals
from .base import Film
from .laying import CELL, CHANNELS, LAYINGS, REPEATED, TILE, lay_out

# Pixels are up to so many times as large as a texel before fewer of them are enough.
AS_LARGE = 1.42
_NO_PIECES = np.zeros((1, 2), np.float32)


@dataclass(frozen=True)
class LaidTile:
    """A material tile ready for the compositor; made by :meth:`of`, made coarser by :func:`shrunk`.

    :ivar stored: uint16 (n, n, 6), 65535 for 1: linear red, green and blue; height, roughness, metalness.
    :ivar size: its side in metres.
    :ivar relief: metres between its lowest and highest point.
    :ivar uneven: share by which its brightness drifts.
    :ivar laying: how it is laid side by side.
    :ivar seam: how wide seams are where parts of it meet, metres; above 0 where what stands up lies on top, below 0 where gaps of
        both show.
    :ivar pieces: of what it is laid by piece; None where it has no courses.
    """

    stored: np.ndarray
    size: float
    relief: float
    uneven: float
    laying: Laying = "repeated"
    pieces: Pieces | None = None
    seam: float = 0.3

    @classmethod
    def of(cls, pixels: np.ndarray, size: float, relief: float, uneven: float, laying: Laying = "repeated",
           pieces: Pieces | None = None, seam: float = 0.3) -> LaidTile:  # fmt: skip
        """From pixels as :meth:`cenote.materials.tile.Tile.packed` gives them, float32 (n, n, 6) in [0, 1]."""
        return cls(_stored(pixels), size, relief, uneven, laying, pieces, seam)

    @property
    def pixels(self) -> np.ndarray:
        """Its pixels, float32 (n, n, 6) in [0, 1]; made anew each time."""
        return self.stored * np.float32(1 / 65535)

    @cached_property
    def heights(self) -> np.ndarray:
        """Quantiles of the heights of its pixels, float32 (128,)."""
        step = max(1, len(self.stored) // 256)
        heights = self.stored[::step, ::step, 3] * np.float32(1 / 65535)
        return np.quantile(heights, (np.arange(128) + 0.5) / 128).astype(np.float32)

    def row(self) -> tuple[float, ...]:
        """As a row of :data:`cenote.weather.laying.TILE`; it holds as long as the tile is held."""
        pieces, spans = self.pieces, _NO_PIECES if self.pieces is None else self.pieces.spans
        numbers = (pieces.rows, pieces.columns, pieces.shift, pieces.differ) if pieces else (1, 1, 0.0, 0.0)
        laying = LAYINGS[self.laying] if pieces or self.laying != "by piece" else REPEATED
        seam = np.copysign(min(max(abs(self.seam) / (CELL * self.size), 0.03), 0.45), self.seam)
        start, at = self.stored.ctypes.data, spans.ctypes.data
        return (start, at, len(self.stored), 1 / self.size, self.relief, self.uneven, laying, seam, *numbers)


def baked(recipe: Recipe, pixels: int = PIXELS, seed: int | None = None) -> LaidTile:
    """A recipe drawn as a tile. :param pixels, seed: as for :meth:`cenote.materials.recipe.Recipe.bake`."""
    drawn = recipe.bake(pixels, seed).packed()
    return LaidTile.of(drawn, recipe.size, recipe.depth, recipe.uneven, recipe.laying, recipe.pieces, recipe.seam)


def rows_of_tiles(tiles: list[LaidTile]) -> np.ndarray:
    """Tiles as the compositor reads them, :data:`cenote.weather.laying.TILE` (T,); they hold as long as the tiles are held."""
    return np.array([tile.row() for tile in tiles], TILE)


def _stored(pixels: np.ndarray) -> np.ndarray:
    return np.ascontiguousarray(np.clip(pixels * np.float32(65535) + np.float32(0.5), 0, 65535).astype(np.uint16))


def shrunk(tile: LaidTile, texel: float) -> LaidTile:
    """The tile averaged down until its pixels are about as large as a texel, so that coarse texels do not flicker."""
    stored = tile.stored
    while len(stored) > 4 and tile.size / len(stored) * AS_LARGE < texel:
        first, second = (stored[row::2].astype(np.uint32) for row in (0, 1))
        rows = first + second
        stored = ((rows[:, 0::2] + rows[:, 1::2] + 2) // 4).astype(np.uint16)
    return tile if stored is tile.stored else replace(tile, stored=stored)


def laid_out(tile: LaidTile, size: float, rows: int, columns: int) -> np.ndarray:
    """A plane under a tile, float32 (rows, columns, 6) as the tile's pixels. :param size: side of a texel, metres."""
    out = np.empty((rows, columns, CHANNELS), np.float32)
    lay_out(rows_of_tiles([tile]), float(size), out)
    return out


def film_tile(film: Film) -> LaidTile:
    """A tile of one colour and roughness."""
    pixel = np.array([*film.colour, 0.5, film.rough, 0.0], np.float32)
    return LaidTile.of(np.broadcast_to(pixel, (4, 4, CHANNELS)), 1.0, 0.0, 0.0)


def tile_pictures(tile: LaidTile) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A tile as files and views want it, each uint8 (n, n, 3): sRGB colour; occlusion 255, roughness and metalness;
    tangent-space normals with +Y up in the picture.
    """
    pixels = tile.pixels
    normal = np.round(relief_normals(pixels[..., 3], tile.size, tile.relief) * 127.5 + 127.5).astype(np.uint8)
    orm = np.dstack([np.ones_like(pixels[..., 3]), pixels[..., 4], pixels[..., 5]])
    return srgb_bytes(pixels[..., :3]), np.round(orm * 255).astype(np.uint8), normal
