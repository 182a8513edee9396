"""Rotations of placed items, as unit quaternions x, y, z, w."""

from __future__ import annotations

import numpy as np


def multiplied(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Products of quaternions, float (N, 4): first b, then a."""
    (ax, ay, az, aw), (bx, by, bz, bw) = a.T, b.T
    return np.column_stack(
        [aw * bx + ax * bw + ay * bz - az * by, aw * by - ax * bz + ay * bw + az * bx,
         aw * bz + ax * by - ay * bx + az * bw, aw * bw - ax * bx - ay * by - az * bz]
    )  # fmt: skip


def leaning(normals: np.ndarray, share: np.ndarray) -> np.ndarray:
    """Quaternions (N, 4) that take +Y to directions between +Y (share (N,) of 0) and the normals (N, 3) (share of 1)."""
    goal = (1 - share)[:, None] * np.array([0.0, 1.0, 0.0]) + share[:, None] * normals
    length = np.linalg.norm(goal, axis=1)
    goal = np.where(length[:, None] > 1e-6, goal / np.maximum(length, 1e-6)[:, None], normals)
    out = np.column_stack([goal[:, 2], np.zeros(len(goal)), -goal[:, 0], 1 + goal[:, 1]])
    length = np.linalg.norm(out, axis=1)
    # Straight down there is no shortest way; any half turn will do.
    return np.where(length[:, None] > 1e-6, out / np.maximum(length, 1e-6)[:, None], [1.0, 0, 0, 0])


def rotation_matrices(rotations: np.ndarray) -> np.ndarray:
    """Matrices of unit quaternions: float32 (N, 4) x, y, z, w to float32 (N, 3, 3)."""
    x, y, z, w = rotations.T.astype(np.float32)
    rows = [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w),
            2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w),
            2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)]  # fmt: skip
    return np.stack(rows, axis=1).reshape(-1, 3, 3)
