"""Barycentric coordinates."""

from __future__ import annotations

import numpy as np


def weights_of(corners: np.ndarray, points: np.ndarray) -> np.ndarray:
    """How far points on triangles' planes lie towards each corner, kept within the triangle: float64 (N, 3), by areas.

    :param corners: float (N, 3, 3). :param points: float (N, 3).
    """
    a, b, c = (corners[:, k].astype(np.float64) for k in range(3))
    normal = np.cross(b - a, c - a)
    size = np.maximum((normal * normal).sum(1), 1e-20)
    u = (np.cross(c - b, points - b) * normal).sum(1) / size
    v = (np.cross(a - c, points - c) * normal).sum(1) / size
    return np.clip(np.column_stack([u, v, 1 - u - v]), 0, 1)
