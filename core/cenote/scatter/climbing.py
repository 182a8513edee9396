"""Plants that climb: brought to the foot of the nearest wall, their backs to it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..geometry.mesh import face_normals
from ..signals.scene import MeasuredScene

# Metres: how far a wall may be from where one is sown, and how much farther up it may stand back.
REACH, BACK = 1.2, 0.25
_WAYS = 16
# Heights at which there has to be wall for a copy of size 1, and its size where so many of them have it.
_HEIGHTS = (0.3, 0.9, 1.6)
_SIZES = np.array([0.0, 0.3, 0.62, 1.0])
# A face counts as a wall if its normal is at most this far from level.
_STEEPEST = np.sin(np.radians(25))


@dataclass(frozen=True)
class Climbing:
    """Where climbers stand.

    :ivar found: bool (N,), whether there is a wall. :ivar positions: float64 (N, 3), at its foot.
    :ivar turns: float64 (N,), radians about +Y that take +Z to the wall's normal. :ivar sizes: float64 (N,), no higher
        than the wall allows.
    """

    found: np.ndarray
    positions: np.ndarray
    turns: np.ndarray
    sizes: np.ndarray


def onto_walls(scene: MeasuredScene, positions: np.ndarray, sizes: np.ndarray) -> Climbing:
    """Bring points to the walls nearest to them.

    :param positions: float (N, 3), on the ground. :param sizes: float (N,), wanted sizes.
    """
    count = len(positions)
    corners = scene.corners
    angles = np.arange(_WAYS) * 2 * np.pi / _WAYS
    ways = np.column_stack([np.cos(angles), np.zeros(_WAYS), np.sin(angles)]).astype(np.float32)
    low = positions + np.array([0, _HEIGHTS[0], 0])
    origins, directions = np.repeat(low, _WAYS, axis=0).astype(np.float32), np.tile(ways, (count, 1))
    away = scene.rays.distance(origins, directions).reshape(count, _WAYS)
    nearest = away.argmin(1) if count else np.zeros(0, np.int64)
    rows = np.arange(count)
    reached = away[rows, nearest].astype(np.float64)
    hits = scene.rays.first(origins, directions).reshape(count, _WAYS)[rows, nearest]
    normals, _ = face_normals(corners[np.maximum(hits, 0)])
    level = normals.astype(np.float64) * np.array([1, 0, 1])
    level /= np.maximum(np.linalg.norm(level, axis=1), 1e-9)[:, None]
    found = (hits >= 0) & (reached < REACH) & (np.abs(normals[:, 1]) < _STEEPEST)
    foot = positions + ways[nearest].astype(np.float64) * np.where(found, reached, 0)[:, None]
    there = np.zeros(count, np.int64)
    for height in _HEIGHTS:
        # From a step in front of the wall straight at it.
        start = foot + level * BACK + np.column_stack([np.zeros(count), height * sizes, np.zeros(count)])
        there += scene.rays.distance(start.astype(np.float32), (-level).astype(np.float32)) < 2 * BACK
    found &= there > 0
    return Climbing(found, foot, np.arctan2(level[:, 0], level[:, 2]), sizes * _SIZES[there])
