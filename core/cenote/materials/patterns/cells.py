"""Voronoi cells: stones, cracked ground, cushions."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numba import njit

from ...parallel import over_rows, rows_of
from ...parameters import choice, quantity
from ..canvas import Canvas, lattice, wrapped
from .base import PATTERNS, Pattern


@njit(cache=True, nogil=True, fastmath=True)
def _cells(x, y, points, columns, rows, out, first, beyond):  # type: ignore
    """out: float32 (n, n, 3): distance to the edge and to the middle in cells; number of the cell."""
    for j in range(first, beyond):
        for i in range(x.shape[1]):
            px, py = x[j, i] * np.float32(columns), y[j, i] * np.float32(rows)
            cx, cy = int(np.floor(px)), int(np.floor(py))
            best, bx, by, bi = np.float32(1e9), np.float32(0), np.float32(0), 0
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    at = wrapped(cy + dy, rows) * columns + wrapped(cx + dx, columns)
                    vx = np.float32(cx + dx + points[at, 0] - px)
                    vy = np.float32(cy + dy + points[at, 1] - py)
                    away = vx * vx + vy * vy
                    if away < best:
                        best, bx, by, bi = away, vx, vy, at
            # Distance to the bisector with each other point near by, exact for straight edges.
            edge = np.float32(1e9)
            for dy in range(-2, 3):
                for dx in range(-2, 3):
                    at = wrapped(cy + dy, rows) * columns + wrapped(cx + dx, columns)
                    vx = np.float32(cx + dx + points[at, 0] - px)
                    vy = np.float32(cy + dy + points[at, 1] - py)
                    ax, ay = vx - bx, vy - by
                    apart = ax * ax + ay * ay
                    if apart > np.float32(1e-6):
                        here = np.float32(0.5) * ((vx + bx) * ax + (vy + by) * ay) / np.sqrt(apart)
                        edge = min(edge, here)
            out[j, i, 0] = max(edge, np.float32(0))
            out[j, i, 1] = np.sqrt(best)
            out[j, i, 2] = np.float32(bi)


@PATTERNS.register
class Cells(Pattern):
    """Irregular pieces that fill the tile: stones in a floor, cracks between, cushions of moss."""

    kind: Literal["cells"] = "cells"
    title: ClassVar[str] = "Cells"
    size: float = quantity(0.15, low=0.004, high=10, unit="m", step=0.005, help="Usual distance between two pieces.")
    irregular: float = quantity(0.8, low=0, high=1, unit="", step=0.05, help="How far pieces stray from even rows.")
    rounded: float = quantity(0, low=0, high=1, unit="", step=0.05, help="How far corners are worn off.")
    gap: float = quantity(0.008, low=0, high=1, unit="m", step=0.001, help="Width of the gaps between pieces.")
    reads: Literal["face", "dome", "tone", "edge"] = choice(
        "face",
        label="Shows",
        help="Flat faces between gaps, rounded domes, a tone for each piece, or the way from gap to middle.",
    )

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        count = canvas.cells(self.size, even=True)
        cell = canvas.size / count

        def make() -> np.ndarray:
            down = np.arange(count)[:, None]
            offset = (lattice((2, count, count), key) - np.float32(0.5)) * np.float32(self.irregular)
            # Every other row is staggered, so that without irregularity pieces are hexagons and not squares.
            stagger = np.float32(0.25) * np.where(down % 2, 1, -1) * np.ones((1, count))
            middles = np.stack([np.float32(0.5) + offset[0] + stagger, np.float32(0.5) + offset[1]], -1)
            out = np.empty((*x.shape, 3), np.float32)
            points = np.ascontiguousarray(middles.reshape(-1, 2), np.float32)
            over_rows(lambda a, b: _cells(x, y, points, count, count, out, a, b), len(x), rows_of(len(x)))
            return out

        found = canvas.kept(("cells", count, self.irregular, int(key), float(x[0, 0]), float(x[-1, 7])), make)
        if self.reads == "tone":
            with np.errstate(over="ignore"):
                return lattice((count * count,), key + np.uint64(7))[found[..., 2].astype(np.int32)]
        edge = found[..., 0]
        if self.rounded:
            # A circle about each piece's middle cuts its corners off.
            edge = np.clip(np.minimum(edge, np.float32(1 - 0.5 * self.rounded) - found[..., 1]), 0, None)
        inner = edge * np.float32(cell) - np.float32(self.gap / 2)
        if self.reads == "face":
            return np.clip(inner / np.float32(max(self.gap, canvas.size / canvas.pixels)) + np.float32(0.5), 0, 1)
        way = np.clip(inner / np.float32(cell * 0.42), 0, 1)
        return np.sqrt(way * (2 - way)) if self.reads == "dome" else way
