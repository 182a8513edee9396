"""Fine straight marks."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numba import njit

from ...parameters import quantity
from ..canvas import Canvas, lattice, wrapped
from .base import PATTERNS, Pattern


@njit(cache=True, nogil=True, fastmath=True)
def _scratches(x, y, count, points, ways, there, thin, out, first, beyond):  # type: ignore
    for j in range(first, beyond):
        for i in range(x.shape[1]):
            px, py = x[j, i] * np.float32(count), y[j, i] * np.float32(count)
            cx, cy = int(np.floor(px)), int(np.floor(py))
            best = np.float32(0)
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    at = wrapped(cy + dy, count) * count + wrapped(cx + dx, count)
                    if there[at] <= 0:
                        continue
                    vx = np.float32(px - (cx + dx) - points[at, 0])
                    vy = np.float32(py - (cy + dy) - points[at, 1])
                    along = vx * ways[at, 0] + vy * ways[at, 1]
                    if abs(along) >= there[at]:
                        continue
                    off = abs(vy * ways[at, 0] - vx * ways[at, 1])
                    end = np.float32(1) - abs(along) / there[at]
                    best = max(
                        best,
                        min(np.float32(1), max(np.float32(0), np.float32(1) - off / thin))
                        * min(np.float32(1), end * np.float32(3)),
                    )
            out[j, i] = best


@PATTERNS.register
class Scratches(Pattern):
    """Fine straight marks that fade at their ends: scratches, tool marks, hair cracks."""

    kind: Literal["scratches"] = "scratches"
    title: ClassVar[str] = "Scratches"
    spread: float = quantity(0.1, low=0.005, high=5, unit="m", step=0.005, help="Usual distance between two.")
    width: float = quantity(0.001, low=0.0002, high=0.2, unit="m", step=0.0005, help="How wide they are.")
    share: float = quantity(0.7, low=0, high=1, unit="", step=0.05, help="Which share of the places has one.")
    aligned: float = quantity(0, low=0, high=1, unit="", step=0.05, help="0 runs any way, 1 all along the tile.")

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        count = canvas.cells(self.spread)
        random = lattice((5, count * count), key)
        angle = (random[2] - np.float32(0.5)) * np.float32(np.pi * (1 - self.aligned))
        ways = np.column_stack([np.cos(angle), np.sin(angle)]).astype(np.float32)
        there = np.where(random[3] < self.share, np.float32(0.25) + np.float32(0.74) * random[4], np.float32(0))
        thin = np.float32(max(self.width, 0.75 * canvas.size / canvas.pixels) * count / canvas.size)
        points = np.ascontiguousarray(random[:2].T)
        return canvas.filled(
            lambda out, a, b: _scratches(x, y, count, points, ways, there.astype(np.float32), thin, out, a, b)
        )
