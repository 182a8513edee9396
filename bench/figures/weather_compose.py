"""``weather.compose``: 4 M texels, 6 signals, 5 covers, all maps; and a preview."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np
from measuring import Figure, peak_of, seconds

from cenote.geometry.charts import charted
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
from cenote.weather.climate import Climate
from cenote.weather.compose import LaidCover, LaidTile, compose, film_tile, shrunk
from cenote.weather.dirt import Dirt
from cenote.weather.leaks import Leaks
from cenote.weather.lichen import Lichen
from cenote.weather.moss import Moss
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
    recipe = MATERIALS[kind].recipe
    return shrunk(LaidTile(recipe.bake().packed(), recipe.size, recipe.depth, recipe.uneven), texel)


def figures() -> Iterator[Figure]:
    """A square wall of 25 m at 12.5 mm: masks of five covers from six signals, then all maps; and a coarse preview of it."""
    wall = Mesh.of([[0, 0, 0], [SIDE, 0, 0], [SIDE, SIDE, 0], [0, SIDE, 0]], [[0, 1, 2], [0, 2, 3]], "brick")
    atlas = charted(wall, CELL)
    grid, coarse = texel_grid(atlas, LEVEL), texel_grid(atlas, COARSE)
    y, x = np.mgrid[0 : atlas.height, 0 : atlas.width]
    cells = np.stack([_noise(x, y, CELL, size, seed) for seed, size in enumerate((3.0, 1.5, 6.0, 2.0))])
    fine_y, fine_x = np.mgrid[0 : grid.faces.shape[0], 0 : grid.faces.shape[1]]
    fine = np.stack([_noise(fine_x, fine_y, grid.texel, size, seed) for seed, size in ((7, 1.2), (8, 2.5))])
    # Rows of the stacks: facing, crevice, sky, rain on cells; two kinds of noise at each texel.
    moss = _table((Facing(), 0.2, 0.6), (Crevice(), 0.1, 0.5), (SkyExposure(), 0.1, 0.4), (Noise(), 0.34, 0.62))
    dirt = _table((Crevice(), 0.1, 0.5), (Noise(), 0.3, 0.7))
    sky = _table((SkyExposure(), 0.2, 0.7), (Noise(), 0.4, 0.6))
    rain = _table((RainExposure(), 0.1, 0.5), (Noise(), 0.1, 0.5))
    moss_sources = [(True, 0), (True, 1), (True, 2), (False, 0)]
    tables = [
        (Dirt(), card_table(dirt, [(True, 1), (False, 1)])),
        (Leaks(), card_table(rain, [(True, 3), (False, 0)])),
        (Lichen(), card_table(sky, [(True, 2), (False, 1)])),
        (Moss(), card_table(moss, moss_sources)),
        (Wetness(), card_table(rain, [(True, 3), (False, 1)])),
    ]
    climate = Climate(years=30, damp=0.95)
    parts, grades = np.zeros(2, np.int32), np.tile(np.array([1, 1, 1, 1, 0], np.float32), (2, 1))

    def composer(at: TexelGrid, on_cells: np.ndarray, on_texels: np.ndarray, relief: bool) -> Callable[[], object]:
        looks = [(cover.look(climate), table) for cover, table in tables]
        laid_looks = [(look, table, film_tile(look.of) if isinstance(look.of, Film) else laid(look.of, at.texel))
                      for look, table in looks]  # fmt: skip
        brick = [laid("brick", at.texel)]

        def whole() -> None:
            scale = at.faces.shape[0] / on_cells.shape[1]
            covers = [
                LaidCover((tile,), evaluate(on_cells, on_texels, table, at.faces.shape, scale), look)
                for look, table, tile in laid_looks
            ]
            compose(atlas, at, brick, parts, grades, covers, on_cells[0], on_cells[1], relief)

        return whole

    whole = composer(grid, cells, fine, True)
    yield Figure(
        "weather.compose",
        seconds(whole),
        "s",
        f" for {(grid.faces >= 0).sum():,} texels, 6 signals, 5 covers, all maps; the aim is at most 1",
    )
    yield Figure("weather.compose.peak", peak_of(whole), "MB")
    quarter_grid = texel_grid(atlas, LEVEL - 1)
    quarter = composer(
        quarter_grid, cells, np.ascontiguousarray(fine[:, ::2, ::2])[:, : atlas.height, : atlas.width], True
    )
    four, one = seconds(whole), seconds(quarter)
    yield Figure(
        "weather.compose.exponent",
        float(np.log(four / one) / np.log((grid.faces >= 0).sum() / (quarter_grid.faces >= 0).sum())),
        "",
        " of time against texels, from a quarter of them; 1 is linear",
    )
    step = 2 ** (LEVEL - COARSE)
    small = np.ascontiguousarray(cells[:, :: 2**-COARSE, :: 2**-COARSE])
    seen = np.ascontiguousarray(fine[:, ::step, ::step])[:, : coarse.faces.shape[0], : coarse.faces.shape[1]]
    yield Figure(
        "weather.compose.coarse",
        seconds(composer(coarse, small, np.ascontiguousarray(seen), False)) * 1e3,
        "ms",
        f" for a preview of {(coarse.faces >= 0).sum():,} texels; the aim is at most 100",
    )
    table = tables[3][1]
    mask = seconds(lambda: evaluate(cells, fine, table, grid.faces.shape, 2.0**LEVEL))
    values = [np.kron(cells[k], np.ones((2, 2), np.float32)) for k in range(3)] + [fine[0]]
    numpy_mask = seconds(lambda: chain(moss, values))
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
