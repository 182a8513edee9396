"""``weather.compose``: 4 M texels, 5 signals, 2 covers, all maps."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from measuring import Figure, peak_of, seconds

from cenote.geometry.charts import charted
from cenote.geometry.mesh import Mesh
from cenote.geometry.texels import texel_grid
from cenote.masks.evaluate import card_table, evaluate
from cenote.masks.where import SignalCard, Where, chain
from cenote.materials.base import MATERIALS
from cenote.signals.crevice import Crevice
from cenote.signals.facing import Facing
from cenote.signals.noise import Noise, world_noise
from cenote.signals.sky import SkyExposure
from cenote.weather.climate import Climate
from cenote.weather.compose import LaidCover, LaidTile, compose, shrunk
from cenote.weather.dirt import Dirt
from cenote.weather.moss import Moss

CELL, LEVEL = 0.025, 1
SIDE = 1000 * CELL


def laid(kind: str, texel: float) -> LaidTile:
    """A baked material ready for texels of a size."""
    recipe = MATERIALS[kind].recipe
    return shrunk(LaidTile(recipe.bake().packed(), recipe.size, recipe.depth, recipe.uneven), texel)


def figures() -> Iterator[Figure]:
    """A square wall of 25 m at 12.5 mm: masks of both covers from their signals, then all maps."""
    wall = Mesh.of([[0, 0, 0], [SIDE, 0, 0], [SIDE, SIDE, 0], [0, SIDE, 0]], [[0, 1, 2], [0, 2, 3]], "brick")
    atlas = charted(wall, CELL)
    grid = texel_grid(atlas, LEVEL)
    shape = atlas.height, atlas.width
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]]
    places = np.column_stack([x.ravel(), y.ravel(), np.zeros(x.size)]).astype(np.float32) * CELL
    cells = np.stack([world_noise(places, size, 4, seed).reshape(shape) for seed, size in enumerate((3.0, 1.5, 6.0))])
    fine_y, fine_x = np.mgrid[0 : grid.faces.shape[0], 0 : grid.faces.shape[1]]
    fine_places = (
        np.column_stack([fine_x.ravel(), fine_y.ravel(), np.zeros(fine_x.size)]).astype(np.float32) * grid.texel
    )
    fine = np.stack(
        [world_noise(fine_places, size, 4, seed).reshape(grid.faces.shape) for seed, size in ((7, 1.2), (8, 2.5))]
    )
    moss = Where(
        cards=(
            SignalCard(id="facing", signal=Facing(), starts_at=0.2, full_at=0.6),
            SignalCard(id="crevice", signal=Crevice(), starts_at=0.1, full_at=0.5),
            SignalCard(id="sky", signal=SkyExposure(), starts_at=0.1, full_at=0.4),
            SignalCard(id="noise", signal=Noise(), starts_at=0.34, full_at=0.62),
        )
    )
    dirt = Where(cards=(moss.cards[1], SignalCard(id="noise", signal=Noise(seed=2), starts_at=0.3, full_at=0.7)))
    moss_table = card_table(moss.cards, [(True, 0), (True, 1), (True, 2), (False, 0)])
    dirt_table = card_table(dirt.cards, [(True, 1), (False, 1)])
    tiles = [laid("brick", grid.texel)]
    looks = [(Dirt().look(Climate()), dirt_table), (Moss().look(Climate()), moss_table)]
    laid_looks = [(look, table, laid(look.of, grid.texel)) for look, table in looks]
    parts, grades = np.zeros(2, np.int32), np.tile(np.array([1, 1, 1, 1, 0], np.float32), (2, 1))

    def masks(tables: list[np.ndarray]) -> list[np.ndarray]:
        return [evaluate(cells, fine, table, grid.faces.shape, 2.0**LEVEL) for table in tables]

    def whole() -> None:
        covers = [
            LaidCover((tile,), mask, look)
            for (look, _, tile), mask in zip(laid_looks, masks([table for _, table, _ in laid_looks]), strict=True)
        ]
        compose(atlas, grid, tiles, parts, grades, covers, cells[0], cells[1])

    taken = seconds(whole)
    yield Figure(
        "weather.compose",
        taken,
        "s",
        f" for {(grid.faces >= 0).sum():,} texels, 5 signals, 2 covers, all maps; the aim is at most 0.6",
    )
    yield Figure("weather.compose.peak", peak_of(whole), "MB")
    mask = seconds(lambda: masks([moss_table]))
    values = [np.kron(cells[k], np.ones((2, 2), np.float32)) for k in range(3)] + [fine[0]]
    numpy_mask = seconds(lambda: chain(moss.cards, values))
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
