"""``weather.compose``: 4 M texels, 6 signals, 5 covers, all maps; and a preview."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from measuring import Figure, peak_of, seconds

from cenote.geometry.charts import Atlas, charted
from cenote.geometry.mesh import Mesh
from cenote.geometry.texels import TexelGrid, texel_grid
from cenote.masks.evaluate import card_table, evaluate
from cenote.masks.where import SignalCard, chain
from cenote.materials.base import MATERIALS
from cenote.signals.base import Signal
from cenote.signals.crevice import Crevice
from cenote.signals.facing import Facing
from cenote.signals.noise import Noise, world_noise
from cenote.signals.rain import RainExposure
from cenote.signals.sky import SkyExposure
from cenote.weather.base import Film
from cenote.weather.climate import Conditions
from cenote.weather.compose import LaidCover, compose
from cenote.weather.dirt import Dirt
from cenote.weather.leaks import Leaks
from cenote.weather.lichen import Lichen
from cenote.weather.moss import Moss
from cenote.weather.tiles import LaidTile, baked, film_tile, shrunk
from cenote.weather.wetness import Wetness

CELL, LEVEL, COARSE = 0.025, 1, -2
SIDE = 1000 * CELL


def _noise(x: np.ndarray, y: np.ndarray, step: float, size: float, seed: int) -> np.ndarray:
    """Noise that stands for a measured signal, float32 of the shape of ``x``."""
    places = np.column_stack([x.ravel(), y.ravel(), np.zeros(x.size)]).astype(np.float32) * step
    return world_noise(places, size, 4, seed).reshape(x.shape)


def _table(*cards: tuple[Signal, float, float]) -> tuple[SignalCard, ...]:
    return tuple(SignalCard(id=str(row), signal=signal, starts_at=starts, full_at=full)
                 for row, (signal, starts, full) in enumerate(cards))  # fmt: skip


def laid(kind: str, texel: float) -> LaidTile:
    """A baked material ready for texels of a size."""
    return shrunk(baked(MATERIALS[kind].recipe), texel)


# Rows of the stacks: facing, crevice, sky, rain on cells; two kinds of noise at each texel.
MOSS = _table((Facing(), 0.2, 0.6), (Crevice(), 0.1, 0.5), (SkyExposure(), 0.1, 0.4), (Noise(), 0.34, 0.62))
_SKY = _table((SkyExposure(), 0.2, 0.7), (Noise(), 0.4, 0.6))
_DIRT = _table((Crevice(), 0.1, 0.5), (Noise(), 0.3, 0.7))
_RAIN = _table((RainExposure(), 0.1, 0.5), (Noise(), 0.1, 0.5))
TABLES = [
    (Dirt(), card_table(_DIRT, [(True, 1), (False, 1)])),
    (Leaks(), card_table(_RAIN, [(True, 3), (False, 0)])),
    (Lichen(), card_table(_SKY, [(True, 2), (False, 1)])),
    (Moss(), card_table(MOSS, [(True, 0), (True, 1), (True, 2), (False, 0)])),
    (Wetness(), card_table(_RAIN, [(True, 3), (False, 1)])),
]
CLIMATE = Conditions(years=30, damp=0.95)


@dataclass(frozen=True)
class Wall:
    """A square wall with its cells and what stands for measured signals on it.

    :ivar on_cells: float32 (4, h, w). :ivar on_texels: float32 (2, H, W).
    """

    atlas: Atlas
    grid: TexelGrid
    on_cells: np.ndarray
    on_texels: np.ndarray


def wall_of(side: float, level: int) -> Wall:
    """A wall of so many metres, at a level of texels."""
    mesh = Mesh.of([[0, 0, 0], [side, 0, 0], [side, side, 0], [0, side, 0]], [[0, 1, 2], [0, 2, 3]], "brick")
    atlas = charted(mesh, CELL)
    grid = texel_grid(atlas, level)
    step = 2 ** max(-level, 0)
    y, x = (one * step for one in np.mgrid[0 : -(-atlas.height // step), 0 : -(-atlas.width // step)])
    cells = np.stack([_noise(x, y, CELL, size, seed) for seed, size in enumerate((3.0, 1.5, 6.0, 2.0))])
    fine_y, fine_x = np.mgrid[0 : grid.faces.shape[0], 0 : grid.faces.shape[1]]
    fine = np.stack([_noise(fine_x, fine_y, grid.texel, size, seed) for seed, size in ((7, 1.2), (8, 2.5))])
    return Wall(atlas, grid, cells, fine)


def composer(wall: Wall, relief: bool) -> Callable[[], object]:
    """Work that makes five masks and all maps of a wall."""
    looks = [(cover.look(CLIMATE), table) for cover, table in TABLES]
    laid_looks = [(look, table, film_tile(look.of) if isinstance(look.of, Film) else laid(look.of, wall.grid.texel))
                  for look, table in looks]  # fmt: skip
    brick = [laid("brick", wall.grid.texel)]
    parts, grades = np.zeros(2, np.int32), np.tile(np.array([1, 1, 1, 1, 0], np.float32), (2, 1))
    shape = wall.grid.faces.shape
    scale = shape[0] / wall.on_cells.shape[1]

    def whole() -> None:
        covers = [
            LaidCover((tile,), evaluate(wall.on_cells, wall.on_texels, table, shape, scale), look)
            for look, table, tile in laid_looks
        ]
        fields = wall.on_cells[0], wall.on_cells[1]
        compose(wall.atlas, wall.grid, brick, parts, grades, covers, *fields, relief)

    return whole


def figures() -> Iterator[Figure]:
    """A square wall of 25 m at 12.5 mm: masks of five covers from six signals, then all maps; and a coarse preview of it."""
    wall, coarse = wall_of(SIDE, LEVEL), wall_of(SIDE, COARSE)
    whole, quarter = composer(wall, True), composer(wall_of(SIDE / 2, LEVEL), True)
    grid = wall.grid
    yield Figure(
        "weather.compose",
        seconds(whole),
        "s",
        f" for {(grid.faces >= 0).sum():,} texels, 6 signals, 5 covers, all maps; the aim is at most 1",
    )
    yield Figure("weather.compose.peak", peak_of(whole), "MB")
    yield Figure(
        "weather.compose.exponent",
        float(np.log(seconds(whole) / seconds(quarter)) / np.log(4)),
        "",
        " of time against texels, from a wall of a quarter of them; 1 is linear",
    )
    yield Figure(
        "weather.compose.coarse",
        seconds(composer(coarse, False)) * 1e3,
        "ms",
        f" for a preview of {(coarse.grid.faces >= 0).sum():,} texels; the aim is at most 100",
    )
    table = TABLES[3][1]
    mask = seconds(lambda: evaluate(wall.on_cells, wall.on_texels, table, grid.faces.shape, 2.0**LEVEL))
    values = [np.kron(wall.on_cells[k], np.ones((2, 2), np.float32)) for k in range(3)] + [wall.on_texels[0]]
    numpy_mask = seconds(lambda: chain(MOSS, values))
    yield Figure(
        "weather.compose.mask",
        mask * 1e3,
        "ms",
        " of it for the moss mask of four signals, three interpolated from cells",
    )
    yield Figure(
        "weather.compose.numpy_mask",
        numpy_mask * 1e3,
        "ms",
        " the same chain in plain numpy, on signals already on texels",
    )
    yield Figure("weather.compose.ratio", numpy_mask / mask, "×", " quicker than plain numpy")
