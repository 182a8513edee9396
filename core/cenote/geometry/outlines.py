"""Outlines that somebody draws."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np


def simple_outline(outline: Sequence[Sequence[float]]) -> None:
    """Check an outline that somebody drew.

    :raises ValueError: if it has no area, or crosses itself.
    """
    points = np.array(outline, float)
    nxt = np.roll(points, -1, axis=0)

    def side(a: np.ndarray, b: np.ndarray, c: np.ndarray) -> float:
        return float((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))

    n = len(points)
    for i in range(n):
        for j in range(i + 2, n):
            if i == 0 and j == n - 1:
                continue
            a, b, c, d = points[i], nxt[i], points[j], nxt[j]
            if side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0:
                raise ValueError(f"outline: its sides {i + 1} and {j + 1} cross; draw it without crossing itself")
    area = abs((points[:, 0] * nxt[:, 1] - nxt[:, 0] * points[:, 1]).sum()) / 2
    if area < 1e-3:
        raise ValueError("outline: it has no area; draw it round something")
