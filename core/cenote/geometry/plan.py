"""Fields seen from above: heights of what lies on top, and water that fills their hollows."""

from __future__ import annotations

from dataclasses import dataclass
from heapq import heappop, heappush

import numpy as np
from numba import njit
from scipy import ndimage

from .rays import RayScene


@dataclass(frozen=True)
class Plan:
    """A grid of squares seen from above, rows along z.

    :ivar origin: x and z of the grid's corner, metres. :ivar cell: side of a square, metres.
    :ivar heights: float64 (rows, columns), what lies on top at the middle of each square; -inf where there is nothing.
    """

    origin: tuple[float, float]
    cell: float
    heights: np.ndarray

    def at(self, positions: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Row and column of the square that each point (N, 3) lies over, int64 (N,), kept within the grid."""
        rows, columns = self.heights.shape
        row = np.floor((positions[:, 2] - self.origin[1]) / self.cell).astype(np.int64)
        column = np.floor((positions[:, 0] - self.origin[0]) / self.cell).astype(np.int64)
        return np.clip(row, 0, rows - 1), np.clip(column, 0, columns - 1)


def cell_of(low: np.ndarray, high: np.ndarray, finest: float, most: int) -> float:
    """The side of a square so that a box seen from above has at most ``most`` of them, at least ``finest`` metres.

    :param low, high: corners of the box, float (3,), metres.
    """
    area = float((high[0] - low[0]) * (high[2] - low[2]))
    return max(finest, float(np.sqrt(area / most)))


def heights_from_above(rays: RayScene, low: np.ndarray, high: np.ndarray, cell: float) -> Plan:
    """The heights of what lies on top within a box.

    :param low, high: corners of the box, float (3,), metres.
    """
    columns, rows = (max(1, int(np.ceil((high[axis] - low[axis]) / cell))) for axis in (0, 2))
    x, z = np.meshgrid(low[0] + (np.arange(columns) + 0.5) * cell, low[2] + (np.arange(rows) + 0.5) * cell)
    top = float(high[1]) + 1
    _, heights = rays.from_above(x.ravel(), z.ravel(), top)
    return Plan((float(low[0]), float(low[2])), cell, heights.reshape(rows, columns))


def barriers(rays: RayScene, plan: Plan, high: float, apart: float, most: int) -> tuple[np.ndarray, np.ndarray]:
    """The highest that lies on the straight way from each square's middle to those of its next squares: walls thinner than a
    square would be missed by the middles alone.

    :param high: metres, above everything. :param apart: metres, walls of this thickness are found.
    :param most: about how many rays may be cast; on large plans thinner walls are missed.
    :returns: towards the next column and towards the next row, float64 (rows, columns); -inf where the middles tell it all.
    """
    rows, columns = plan.heights.shape
    between = min(int(np.ceil(plan.cell / apart)) - 1, most // (2 * rows * columns))
    x, z = plan.origin[0] + (np.arange(columns) + 0.5) * plan.cell, plan.origin[1] + (np.arange(rows) + 0.5) * plan.cell
    over = np.full((2, rows, columns), -np.inf)
    for k in range(between):
        shift = (k + 1) / (between + 1) * plan.cell
        for axis, (dx, dz) in enumerate(((shift, 0.0), (0.0, shift))):
            places = np.meshgrid(x + dx, z + dz)
            _, heights = rays.from_above(places[0].ravel(), places[1].ravel(), high)
            np.maximum(over[axis], heights.reshape(rows, columns), out=over[axis])
    return over[0], over[1]


@njit(cache=True)
def _fill(heights, right, below):  # type: ignore
    rows, columns = heights.shape
    level = np.full(heights.shape, np.inf)
    done = np.zeros((rows, columns), np.bool_)
    shore = [(0.0, 0) for _ in range(0)]
    # What touches the border, or a hole through which water leaves, drains freely.
    for r in range(rows):
        for c in range(columns):
            if r == 0 or c == 0 or r == rows - 1 or c == columns - 1 or heights[r, c] == -np.inf:
                level[r, c] = heights[r, c]
                heappush(shore, (level[r, c], r * columns + c))
    while len(shore) > 0:
        at, here = heappop(shore)
        r, c = here // columns, here % columns
        if done[r, c]:
            continue
        done[r, c] = True
        for way in range(4):
            a, b = r + (way == 2) - (way == 3), c + (way == 0) - (way == 1)
            if a < 0 or b < 0 or a == rows or b == columns or done[a, b]:
                continue
            over = right[r, min(b, c)] if a == r else below[min(a, r), c]
            # What lies between squares is passed on one way and not on another: the lowest way found last counts.
            reached = max(heights[a, b], max(at, over))
            if reached < level[a, b]:
                level[a, b] = reached
                heappush(shore, (reached, a * columns + b))
    return level


@njit(cache=True)
def _parted(heights, level, right, below):  # type: ignore
    """Number the ponds from 1 up, 0 where it is dry: squares are of one pond where water passes from one to the other."""
    rows, columns = heights.shape
    labels = np.zeros((rows, columns), np.int32)
    count = 0
    todo = np.empty(rows * columns, np.int64)
    for first in range(rows * columns):
        r, c = first // columns, first % columns
        if labels[r, c] != 0 or not level[r, c] > heights[r, c] + 1e-6:
            continue
        count += 1
        labels[r, c] = count
        todo[0], left = first, 1
        while left > 0:
            left -= 1
            r, c = todo[left] // columns, todo[left] % columns
            for way in range(4):
                a, b = r + (way == 2) - (way == 3), c + (way == 0) - (way == 1)
                if a < 0 or b < 0 or a == rows or b == columns or labels[a, b] != 0:
                    continue
                over = right[r, min(b, c)] if a == r else below[min(a, r), c]
                wet = level[a, b] > heights[a, b] + 1e-6
                if wet and over < min(level[r, c], level[a, b]) and abs(level[a, b] - level[r, c]) < 1e-9:
                    labels[a, b] = count
                    todo[left] = a * columns + b
                    left += 1
    return labels, count


def _ways(heights: np.ndarray, over: tuple[np.ndarray, np.ndarray] | None) -> tuple[np.ndarray, np.ndarray]:
    nothing = np.full(heights.shape, -np.inf)
    return over or (nothing, nothing)


def filled(heights: np.ndarray, over: tuple[np.ndarray, np.ndarray] | None = None) -> np.ndarray:
    """The level to which water would fill each square of a height field before it runs off over the border.

    Priority-flood (Barnes, Lehman and Mulla, "Priority-Flood", Computers & Geosciences 62, 2014); water passes from a square
    to the four next to it.

    :param heights: float64 (rows, columns), metres; -inf where water drains away.
    :param over: what it must rise over between squares, as :func:`barriers` gives it.
    :returns: float64 (rows, columns), at least ``heights``.
    """
    return np.asarray(_fill(np.ascontiguousarray(heights, np.float64), *_ways(heights, over)))


def ponds(heights: np.ndarray, most: float, over: tuple[np.ndarray, np.ndarray] | None = None) -> np.ndarray:
    """Water levels in the hollows of a height field, ``heights`` (rows, columns), that hold no more than ``most`` metres above their floors.

    :param over: as :func:`filled` takes it.
    :returns: float64 (rows, columns), -inf where no water stands.
    """
    level = filled(heights, over)
    labels, count = _parted(np.ascontiguousarray(heights, np.float64), level, *_ways(heights, over))
    out = np.full(heights.shape, -np.inf)
    if count:
        floors = np.concatenate([[np.inf], ndimage.minimum(heights, labels, np.arange(1, count + 1))])
        stands = np.minimum(level, (floors + most)[labels])
        out = np.where((labels > 0) & (stands > heights), stands, -np.inf)
    return out
