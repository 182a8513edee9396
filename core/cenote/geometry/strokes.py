"""Strokes of a brush over surfaces, and how strong they are at a point."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Annotated

import numpy as np
from numba import njit
from pydantic import Field, field_validator

from ..parallel import over_rows
from ..parameters import Declared, quantity, switch

Line = Annotated[tuple[tuple[float, float, float], ...], Field(min_length=1, max_length=600)]


class BrushStroke(Declared):
    """One stroke of a brush over whatever stood in its way."""

    adds: bool = switch(True, help="Whether it paints or takes away.")
    radius: float = quantity(0.5, low=0.01, high=100, unit="m", step=0.05, help="Radius of the brush.")
    strength: float = quantity(1, low=0.02, high=1, unit="", step=0.05, help="How much it paints or takes away.")
    soft: float = quantity(0.5, low=0, high=1, unit="", step=0.05, help="How soft its edge is.")
    path: Line

    @field_validator("path")
    @classmethod
    def _near(cls, path: tuple[tuple[float, float, float], ...]) -> tuple[tuple[float, float, float], ...]:
        if not np.isfinite(path).all() or np.abs(path).max() > 1e4:
            raise ValueError("a stroke must stay within 10 km")
        return path


@njit(cache=True, nogil=True)
def _stroked(points, path, radius, soft, amount, out, first, beyond):  # type: ignore
    inner = radius * (1.0 - soft)
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for k in range(len(path)):
        for axis in range(3):
            low[axis] = min(low[axis], path[k, axis] - radius)
            high[axis] = max(high[axis], path[k, axis] + radius)
    for i in range(first, beyond):
        px, py, pz = points[i, 0], points[i, 1], points[i, 2]
        if px < low[0] or px > high[0] or py < low[1] or py > high[1] or pz < low[2] or pz > high[2]:
            continue
        best = np.inf
        for k in range(max(1, len(path) - 1)):
            a = path[k]
            b = path[min(k + 1, len(path) - 1)]
            ex, ey, ez = b[0] - a[0], b[1] - a[1], b[2] - a[2]
            qx, qy, qz = px - a[0], py - a[1], pz - a[2]
            length = ex * ex + ey * ey + ez * ez
            t = min(max((qx * ex + qy * ey + qz * ez) / length, 0.0), 1.0) if length > 0 else 0.0
            dx, dy, dz = qx - t * ex, qy - t * ey, qz - t * ez
            best = min(best, dx * dx + dy * dy + dz * dz)
        away = np.sqrt(best)
        if away >= radius:
            continue
        t = 1.0 if away <= inner else 1.0 - (away - inner) / max(radius - inner, 1e-9)
        w = np.float32(t * t * (3.0 - 2.0 * t))
        if amount > 0:
            out[i] = max(out[i], w * amount)
        else:
            out[i] = min(out[i], np.float32(1) + w * amount)


def stroked(positions: np.ndarray, strokes: Sequence[BrushStroke], start: np.ndarray | None = None) -> np.ndarray:
    """A mask after strokes, one after another.

    :param positions: float (N, 3), metres. :param start: the mask before, float32 (N,); nothing where it is left out.
    :returns: float32 (N,) in [0, 1], a copy.
    """
    out = np.zeros(len(positions), np.float32) if start is None else np.array(start, np.float32)
    points = np.ascontiguousarray(positions, np.float64)
    for stroke in strokes:
        path = np.array(stroke.path, np.float64)
        amount = np.float32(stroke.strength if stroke.adds else -stroke.strength)
        kernel = partial(_stroked, points, path, stroke.radius, stroke.soft, amount, out)
        over_rows(kernel, len(points), least=20_000)
    return out
