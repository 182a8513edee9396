"""Signals measured more finely than on cells: block by block, where patches that are looked at from near ask for it.

A layout's cells are as wide as suits the whole of it, 10 cm for a yard's ground and 3 m for one of two kilometres. For patches
there are cells of levels above 0 as well, each half as wide as those of the level before, down to what a small object has.
A block of such cells takes the values of the level before, interpolated, and adds what measuring tells otherwise: one
point in sixteen is measured, and all about those that tell something new, since most of a wide ground is even. What differs by no more than chance
or than can be seen is left out, everywhere alike, so that blocks meet without a step (shrinkage of details: Donoho and
Johnstone, "Ideal spatial adaptation by wavelet shrinkage", 1994, with a firm threshold, Gao and Bruce, "WaveShrink with firm
shrinkage", 1997).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy import ndimage

from ..geometry.charts import Atlas
from ..geometry.texels import Stretch, Window, stretch_table, texel_grid, texel_points
from ..signals.around import GROUND, PARTS
from ..signals.base import Signal
from ..signals.scene import MeasuredScene, Samples
from ..signals.standing import StandingWater
from ..weather.blend import NO_WATER
from .fields import FINEST_CELL, CellField, reached_by, values_of
from .regional import fields_over, highest_about, laid_over, water_over
from .scene import Scenery, around_site, bits_of
from .site import Site
from .surfaces import (
    WIDER_PAD,
    ObjectAtlas,
    ObjectCells,
    ObjectShape,
    Patches,
    Shape,
    cell_of_layout,
    part_names,
    window_of,
)
from .target import Keep, Read, Target, Unkeyed

# Cells are at most so many levels coarser than the texels that are interpolated from them.
_STEPS = 3
# Cells along a block's side, and those that it has of its neighbours' on each side, to be interpolated from.
SIDE, _MARGIN = 32, 4
# Of every so many cells along either way one is measured first.
_SPARSE = 4
# What differs by less is left out: so many times the signal's grain, and this share of its range. From twice as much on all of
# it counts.
_GRAINS, _SHARE = 2.0, 0.004


def cell_level(cell: float, level: int) -> int:
    """The level of the cells that patches are interpolated from; 0 for the cells that a surface is measured on as a whole.

    :param cell: the side of the latter, metres. :param level: that of the patches.
    """
    finest = int(np.floor(np.log2(cell / FINEST_CELL) + 1e-6))
    return max(min(level - _STEPS, finest), 0)


def level_for_cells(cell: float, wanted: float) -> int:
    """The level of patches that are interpolated from cells of a size, or from the next finer ones.

    :param cell: the side of a surface's own cells, metres. :param wanted: of those wanted.
    """
    return max(int(np.ceil(np.log2(cell / wanted) - 0.01)), 0) + _STEPS


@dataclass(frozen=True)
class CellsOfPatches:
    """The cells that patches of a level are interpolated from.

    :ivar level: theirs. :ivar window: which of that level. :ivar scale: texels of the patches a cell.
    :ivar origin: row and column of the patches' first texel against the first of these cells.
    """

    level: int
    window: Window
    scale: float
    origin: tuple[int, int]


def cells_of_patches(atlas: Atlas, level: int, patches: Patches, own: int) -> CellsOfPatches:
    """The cells of a level that patches of another one are interpolated from. :param own: the level of the cells."""
    texels = window_of(patches)
    window = Stretch.over(atlas, level, level - own, texels).window
    scale = 2 ** (level - own)
    return CellsOfPatches(own, window, float(scale), (texels[0] - window[0] * scale, texels[1] - window[1] * scale))


def cells_at(site: Site, id: str, level: int, patches: Patches | None) -> CellsOfPatches | None:
    """The cells that patches of an object, or all texels of a level, are interpolated from; None for those of the whole object."""
    if patches is None or level <= _STEPS:
        return None
    own = cell_level(cell_of_layout(site, id), level)
    return cells_of_patches(site.get(ObjectAtlas(id)), level, patches, own) if own else None


@dataclass(frozen=True)
class FinerBlock(Target):
    """A signal on a block of cells of a level above 0 and on those about it: float32 (40, 40), 0 where there is no surface.

    :ivar signal: one that is measured on cells, point by point. :ivar row, column: the block's among those of the level.
    """

    id: str
    signal: Signal
    level: int
    row: int
    column: int

    def inputs(self, site: Site) -> Mapping[str, Any]:
        parent = level_before(self.id, self.signal, self.level, self.row, self.column)
        bits, named = _reached(site, self)
        return {
            "signal": self.signal, "at": (self.level, self.row, self.column), "before": parent, "shape": ObjectShape(self.id),
            "scene": Scenery(bits, self.signal.looks_at()), "parts": part_names(site, self.id) if named else (), "owner": self.id,
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        level, row, column = read.at
        shape: Shape = read.shape
        signal: Signal = read.signal
        window = window_of_block(row, column)
        values = _taken(shape.atlas, level, window, values_of(read.before), row, column)
        grid = texel_grid(shape.atlas, level, window, WIDER_PAD)
        values[grid.faces < 0] = 0
        ys, xs, positions, normals = texel_points(shape.atlas, grid, shape.corners, shape.normals)
        samples = Samples(positions, normals, shape.mesh.parts[grid.faces[ys, xs]], read.parts, read.owner)
        sparse = (ys % _SPARSE == _SPARSE // 2) & (xs % _SPARSE == _SPARSE // 2)
        told = np.zeros((window[2] // _SPARSE, window[3] // _SPARSE), bool)
        rows = np.flatnonzero(sparse)
        news = _news(signal, samples, read.scene, values, ys, xs, rows)
        told[ys[rows] // _SPARSE, xs[rows] // _SPARSE] = news != 0
        near = ndimage.binary_dilation(told, np.ones((3, 3), bool))
        more = np.flatnonzero(near[ys // _SPARSE, xs // _SPARSE] & ~sparse)
        finer = _news(signal, samples, read.scene, values, ys, xs, more)
        values[ys[rows], xs[rows]] += news
        values[ys[more], xs[more]] += finer
        return values


def _news(signal: Signal, samples: Samples, scene: MeasuredScene, values: np.ndarray, ys: np.ndarray, xs: np.ndarray,
          rows: np.ndarray) -> np.ndarray:  # fmt: skip
    """What measuring some of the samples tells that their values, interpolated, do not."""
    if not len(rows):
        return np.zeros(0, np.float32)
    return kept(signal.measure(samples.only(rows), scene) - values[ys[rows], xs[rows]], signal)


def kept(differences: np.ndarray, signal: Signal) -> np.ndarray:
    """What counts of differences between measured and interpolated values: none of the small ones, all of the large ones, and
    those between the more the larger they are.

    :param differences: float32 (N,), in the signal's unit. :returns: float32 (N,).
    """
    least = max(_GRAINS * signal.grain, _SHARE * (signal.reading.high - signal.reading.low))
    share = np.clip(np.abs(differences) / least - 1, 0, 1)
    return np.asarray(differences * share, np.float32)


def window_of_block(row: int, column: int) -> Window:
    """The cells of a block, with those about it."""
    side = SIDE + 2 * _MARGIN
    return SIDE * row - _MARGIN, SIDE * column - _MARGIN, side, side


def level_before(id: str, signal: Signal, level: int, row: int, column: int) -> Target:
    """Where a block's signal is known on cells twice as wide."""
    return CellField(id, signal, 0) if level == 1 else FinerBlock(id, signal, level - 1, row // 2, column // 2)


def _taken(atlas: Atlas, level: int, window: Window, before: np.ndarray, row: int, column: int) -> np.ndarray:
    """The values of the level before, interpolated: float32 (h, w). :param before: of all of level 0, or of the block there."""
    top, left = window_of_block(row // 2, column // 2)[:2] if level > 1 else (0, 0)
    return _stretched(Stretch.over(atlas, level, 1, window), before, top, left)


def _stretched(stretch: Stretch, values: np.ndarray, top: int = 0, left: int = 0) -> np.ndarray:
    """Values interpolated. :param top, left: which row and column of their level ``values`` begin with."""
    row, column, rows, columns = stretch.window
    part = values[row - top : row - top + rows, column - left : column - left + columns]
    return stretch(np.ascontiguousarray(part))


def _reached(site: Site, block: FinerBlock) -> tuple[bytes, bool]:
    """What the signal looks at about a block, as bits, and whether names of parts are among it."""
    if block.id != GROUND:
        # A box about a block of a wall is no smaller than the wall by much.
        return reached_by(site, block.signal)[block.id]
    atlas: Atlas = site.get(ObjectAtlas(GROUND))
    around = around_site(site)
    rows = [around.things.index(("object", GROUND))]
    low, high = around.low[rows].copy(), around.high[rows].copy()
    row, column, tall, wide = window_of_block(block.row, block.column)
    cell = atlas.cell / 2**block.level
    corner = atlas.corner
    for axis, first, many, least in ((0, column, wide, corner[0]), (2, row, tall, corner[1])):
        low[0, axis] = max(low[0, axis], least + first * cell)
        high[0, axis] = min(high[0, axis], least + (first + many) * cell)
    reached = block.signal.reaches(around, np.minimum(low, high), high)[0]
    return bits_of(reached), bool((reached & around.only(PARTS)).any())


@dataclass(frozen=True)
class FinerField(Target):
    """A signal on the cells that patches of a level are interpolated from: float32 (h, w), see :class:`CellsOfPatches`.

    What is worked out over a whole scene at once is interpolated from the surface's own cells, and from those of a wide ground's
    regions.

    :ivar level: of the patches. :ivar own: of the cells.
    """

    id: str
    signal: Signal
    level: int
    patches: Patches
    own: int

    @property
    def keep(self) -> Keep:  # type: ignore[override]
        """Its blocks are kept."""
        return "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        cells = cells_of_patches(site.get(ObjectAtlas(self.id)), self.level, self.patches, self.own)
        out: dict[str, Any] = {"signal": self.signal, "cells": Unkeyed(cells), "at": (self.level, self.patches, self.own),
                               "owner": self.id, "blocks": (), "rows": (), "whole": None, "scene": None, "parts": (), "regions": ()}  # fmt: skip
        if not self.signal.on_cells:
            bits, named = reached_by(site, self.signal)[self.id]
            return out | {"scene": Scenery(bits, self.signal.looks_at()), "shape": ObjectShape(self.id),
                          "parts": part_names(site, self.id) if named else ()}  # fmt: skip
        if not self.signal.pointwise:
            regions = fields_over(site, self.signal, self.own, cells.window) if self.id == GROUND else []
            return out | {"whole": CellField(self.id, self.signal, 0), "atlas": ObjectAtlas(self.id), "regions": regions,
                          "lie": [one.region for one in regions]}  # fmt: skip
        row, column, rows, columns = cells.window
        places = [(r, c) for r in _blocks_over(row, rows) for c in _blocks_over(column, columns)]
        return out | {
            "blocks": [FinerBlock(self.id, self.signal, cells.level, r, c) for r, c in places],
            "rows": places,
        }

    @staticmethod
    def make(read: Read) -> np.ndarray:
        signal: Signal = read.signal
        cells: CellsOfPatches = read.cells
        row, column, rows, columns = cells.window
        if read.whole is not None:
            out = _stretched(Stretch.over(read.atlas, cells.level, cells.level, cells.window), values_of(read.whole))
            for region, found in zip(read.lie, read.regions, strict=True):
                out = laid_over(out, read.atlas, cells.level, cells.window, region, found)
            return out
        if read.scene is not None:
            shape: Shape = read.shape
            grid = texel_grid(shape.atlas, cells.level, cells.window, WIDER_PAD)
            ys, xs, positions, normals = texel_points(shape.atlas, grid, shape.corners, shape.normals)
            samples = Samples(positions, normals, shape.mesh.parts[grid.faces[ys, xs]], read.parts, read.owner)
            out = np.zeros((rows, columns), np.float32)
            out[ys, xs] = signal.measure(samples, read.scene)
            return out
        out = np.zeros((rows, columns), np.float32)
        # Each block's margin is overwritten by the block whose own cells these are.
        for margin in (_MARGIN, 0):
            for (r, c), block in zip(read.rows, read.blocks, strict=True):
                top, left = SIDE * r - margin - row, SIDE * c - margin - column
                side = SIDE + 2 * margin
                y0, y1, x0, x1 = max(top, 0), min(top + side, rows), max(left, 0), min(left + side, columns)
                inner = _MARGIN - margin
                out[y0:y1, x0:x1] = block[y0 - top + inner : y1 - top + inner, x0 - left + inner : x1 - left + inner]
        return out


def _blocks_over(first: int, many: int) -> range:
    """Which blocks along a side hold so many cells: what lies in the margin of one that is there anyhow asks for no other."""
    begin, end = (first + _MARGIN) // SIDE, (first + many - 1 - _MARGIN) // SIDE
    return range(begin, max(begin, end) + 1)


@dataclass(frozen=True)
class FinerWater(Target):
    """Where water stands, on the cells that patches are interpolated from: float32 (h, w), metres in the world.

    It is the highest level of the surface's own cells about each, as the compositor has it.

    :ivar level: of the patches. :ivar own: of the cells.
    """

    id: str
    signal: StandingWater
    level: int
    patches: Patches
    own: int
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        cells = cells_of_patches(site.get(ObjectAtlas(self.id)), self.level, self.patches, self.own)
        regions = fields_over(site, self.signal, self.own, cells.window) if self.id == GROUND else []
        return {"depth": CellField(self.id, self.signal, 0), "cells": ObjectCells(self.id), "at": (self.level, self.patches, self.own),
                "finer": Unkeyed(cells), "atlas": ObjectAtlas(self.id), "regions": regions, "lie": [one.region for one in regions]}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        levels = water_levels(read.cells, read.depth)
        finer: CellsOfPatches = read.finer
        row, column, rows, columns = finer.window
        tables = zip(levels.shape, (rows, columns), (row, column), strict=True)
        out = highest_about(
            levels, *(stretch_table(had, many, 2.0**finer.level, first)[0] for had, many, first in tables)
        )
        for region, found in zip(read.lie, read.regions, strict=True):
            out = water_over(out, read.atlas, finer.level, finer.window, region, found)
        return out


def water_levels(cells: Any, depth: np.ndarray) -> np.ndarray:
    """Where water stands over a surface's cells, float32 (h, w), metres in the world; far below where there is none.

    :param cells: :class:`cenote.derive.surfaces.Cells`. :param depth: float32 (h, w), centimetres.
    """
    levels = np.full(cells.grid.faces.shape, NO_WATER, np.float32)
    deep = depth[cells.ys, cells.xs] / 100
    levels[cells.ys, cells.xs] = np.where(deep > 0, cells.samples.positions[:, 1] + deep, NO_WATER)
    return levels
