"""What follows from a whole scene, on a wide ground: worked out over its regions, on cells of their own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from hashlib import blake2b
from typing import Any

import numpy as np

from ..geometry.charts import Atlas
from ..geometry.texels import TexelGrid, Window, stretch_table, texel_grid, texel_points
from ..signals.around import GROUND, PARTS
from ..signals.base import Signal
from ..signals.scene import Samples
from ..weather.blend import NO_WATER
from .regions import Region, corners_of, regions_of
from .scene import Scenery, around_site, bits_of
from .site import Site
from .surfaces import WIDER_PAD, ObjectAtlas, ObjectShape, Shape, part_names
from .target import Read, Target

# Metres: the side of a region's cells, that of a yard's.
_CELL = 0.1


@dataclass(frozen=True)
class RegionValues:
    """A signal over a region of the ground.

    :ivar level: of its cells. :ivar window: which of that level they are.
    :ivar values: float32 (h, w), 0 where there is no ground. :ivar heights: float32 (h, w), of the ground, metres.
    """

    level: int
    window: Window
    values: np.ndarray
    heights: np.ndarray

    @cached_property
    def water(self) -> np.ndarray:
        """Where water stands, whose depth in centimetres the values are: float32 (h, w), metres in the world."""
        return np.where(self.values > 0, self.heights + self.values / 100, np.float32(NO_WATER)).astype(np.float32)


@dataclass(frozen=True)
class RegionField(Target):
    """A signal that follows from a whole scene, over a region of a wide ground: :class:`RegionValues`."""

    signal: Signal
    region: Region
    keep = "store"
    slow = True

    def inputs(self, site: Site) -> Mapping[str, Any]:
        around = around_site(site)
        low, high = (np.array([one]) for one in corners_of(site, self.region))
        reached = self.signal.reaches(around, low, high)[0]
        scene = Scenery(bits_of(reached), self.signal.looks_at(), corners_of(site, self.region))
        named = bool((reached & around.only(PARTS)).any())
        return {"signal": self.signal, "scene": scene, "region": self.region, "shape": ObjectShape(GROUND),
                "parts": part_names(site, GROUND) if named else ()}  # fmt: skip

    @staticmethod
    def make(read: Read) -> RegionValues:
        shape: Shape = read.shape
        region: Region = read.region
        level = max(int(np.ceil(np.log2(shape.atlas.cell / _CELL) - 0.01)), 0)
        grid = texel_grid(shape.atlas, level, window_in(shape.atlas, level, region), WIDER_PAD)
        ys, xs, positions, normals = texel_points(shape.atlas, grid, shape.corners, shape.normals)
        samples = Samples(positions, normals, shape.mesh.parts[grid.faces[ys, xs]], read.parts, GROUND)
        values, heights = (np.zeros(grid.faces.shape, np.float32) for _ in range(2))
        values[ys, xs] = read.signal.measure(samples, read.scene)
        heights[ys, xs] = positions[:, 1]
        return RegionValues(level, _window(grid), values, heights)

    @staticmethod
    def pack(value: RegionValues) -> dict[str, np.ndarray]:
        return {"at": np.array([value.level, *value.window]), "values": value.values, "heights": value.heights}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> RegionValues:
        level, row, column, rows, columns = arrays["at"].tolist()
        return RegionValues(level, (row, column, rows, columns), arrays["values"], arrays["heights"])

    @staticmethod
    def mark(value: RegionValues) -> np.ndarray:
        content = np.ascontiguousarray(value.values).tobytes() + np.ascontiguousarray(value.heights).tobytes()
        return np.frombuffer(blake2b(content, digest_size=16).digest(), np.uint8)

    def doing(self, site: Site) -> str:
        return f"{self.signal.reading.title} on the ground about a shot"


def _window(grid: TexelGrid) -> Window:
    rows, columns = grid.faces.shape
    return (*grid.origin, rows, columns)


def window_in(atlas: Atlas, level: int, region: Region) -> Window:
    """The cells of a level of the ground that lie in a region."""
    cell, limits = atlas.cell / 2**level, (atlas.width * 2**level, atlas.height * 2**level)
    start = atlas.corner
    first = [max(int(np.floor((region.low[k] - start[k]) / cell)), 0) for k in (0, 1)]
    last = [min(int(np.ceil((region.high[k] - start[k]) / cell)), limits[k]) for k in (0, 1)]
    return first[1], first[0], max(last[1] - first[1], 0), max(last[0] - first[0], 0)


def fields_on(site: Site, id: str, signal: Signal) -> tuple[RegionField, ...]:
    """What is worked out over regions for a signal on an object: for the ground, where the signal follows from a whole scene."""
    if id != GROUND or not signal.on_cells or signal.pointwise:
        return ()
    return tuple(RegionField(signal, region) for region in regions_of(site))


def fields_over(site: Site, signal: Signal, level: int, window: Window) -> list[RegionField]:
    """Those of :func:`fields_on` the ground that come into a window of its cells."""
    low, high = _extent(site.get(ObjectAtlas(GROUND)), level, window)
    return [one for one in fields_on(site, GROUND, signal)
            if all(one.region.low[k] < high[k] and low[k] < one.region.high[k] for k in (0, 1))]  # fmt: skip


def _extent(atlas: Atlas, level: int, window: Window) -> tuple[np.ndarray, np.ndarray]:
    cell, start = atlas.cell / 2**level, atlas.corner
    row, column, rows, columns = window
    return start + np.array([column, row]) * cell, start + np.array([column + columns, row + rows]) * cell


def laid_over(
    values: np.ndarray, atlas: Atlas, level: int, window: Window, region: Region, found: RegionValues
) -> np.ndarray:
    """Values on a window of cells of the ground with those of a region laid over them, as far as these count: float32 (h, w).

    :param values: float32 (h, w), as they are known of the whole.
    """
    weights, tables = _lies(atlas, level, window, region, found)
    (down, sinks), (across, share) = tables
    rows = found.values[down] + sinks[:, None] * (
        found.values[_after(down, found.values.shape[0])] - found.values[down]
    )
    own = rows[:, across] + share[None] * (rows[:, _after(across, found.values.shape[1])] - rows[:, across])
    return np.asarray(values + weights * (own - values), np.float32)


def water_over(
    levels: np.ndarray, atlas: Atlas, level: int, window: Window, region: Region, found: RegionValues
) -> np.ndarray:
    """Levels of water on a window of cells, those of a region in place of the others where it counts for more: float32 (h, w).

    :param levels: float32 (h, w), metres in the world.
    """
    weights, ((down, _), (across, _)) = _lies(atlas, level, window, region, found)
    own = highest_about(found.water, down, across)
    return np.where(weights > 0.5, own, levels)


def highest_about(levels: np.ndarray, down: np.ndarray, across: np.ndarray) -> np.ndarray:
    """The highest of the four levels about each of some rows and columns, float32 (R, C).

    :param levels: float32 (h, w). :param down, across: int (R,) and (C,), the rows above and the columns to the left.
    """
    rows, columns = (down, _after(down, levels.shape[0])), (across, _after(across, levels.shape[1]))
    found: np.ndarray = np.max([levels[np.ix_(y, x)] for y in rows for x in columns], axis=0)
    return found


def _after(at: np.ndarray, had: int) -> np.ndarray:
    return np.minimum(at + 1, had - 1)


def _lies(
    atlas: Atlas, level: int, window: Window, region: Region, found: RegionValues
) -> tuple[np.ndarray, list[Any]]:
    """How far a region counts on a window of cells, float32 (h, w), and how these lie among its own along both ways."""
    cell, start = atlas.cell / 2**level, atlas.corner
    row, column, rows, columns = window
    x, z = (
        start[k] + (first + np.arange(many) + 0.5) * cell for k, first, many in ((0, column, columns), (1, row, rows))
    )
    scale = 2.0 ** (level - found.level)
    lies = zip(found.window[2:], (rows, columns), (row, column), found.window[:2], strict=True)
    tables = [stretch_table(had, many, scale, first - own * scale) for had, many, first, own in lies]
    return region.weights(x, z), tables
