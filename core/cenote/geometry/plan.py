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


@njit(cache=True)
def _fill(heights):  # type: ignore
    rows, columns = heights.shape
    level = np.empty_like(heights)
    done = np.zeros((rows, columns), np.bool_)
    shore = [(0.0, 0) for _ in range(0)]
    # What touches the border, or a hole through which water leaves, drains freely.
    for r in range(rows):
        for c in range(columns):
            if r == 0 or c == 0 or r == rows - 1 or c == columns - 1 or heights[r, c] == -np.inf:
                level[r, c] = heights[r, c]
                done[r, c] = True
                heappush(shore, (level[r, c], r * columns + c))
    while len(shore) > 0:
        at, here = heappop(shore)
        r, c = here // columns, here % columns
        for a in range(max(0, r - 1), min(rows, r + 2)):
            for b in range(max(0, c - 1), min(columns, c + 2)):
                if not done[a, b]:
                    done[a, b] = True
                    level[a, b] = max(heights[a, b], at)
                    heappush(shore, (level[a, b], a * columns + b))
    return level


def filled(heights: np.ndarray) -> np.ndarray:
    """The level to which water would fill each square of a height field before it runs off over the border.

    Priority-flood (Barnes, Lehman and Mulla, "Priority-Flood", Computers & Geosciences 62, 2014).

    :param heights: float64 (rows, columns), metres; -inf where water drains away.
    :returns: float64 (rows, columns), at least ``heights``.
    """
    return np.asarray(_fill(np.ascontiguousarray(heights, np.float64)))


def ponds(heights: np.ndarray, most: float) -> np.ndarray:
    """Water levels in the hollows of a height field, ``heights`` (rows, columns), that hold no more than ``most`` metres above their floors.

    :returns: float64 (rows, columns), -inf where no water stands.
    """
    level = filled(heights)
    wet = level > heights + 1e-6
    labels, count = ndimage.label(wet, np.ones((3, 3), int))
    out = np.full(heights.shape, -np.inf)
    if count:
        floors = np.concatenate([[np.inf], ndimage.minimum(heights, labels, np.arange(1, count + 1))])
        stands = np.minimum(level, (floors + most)[labels])
        out = np.where(wet & (stands > heights), stands, -np.inf)
    return out
