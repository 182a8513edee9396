"""What surfaces get of lamps."""

from __future__ import annotations

import numpy as np

from .lamps.base import SUN_LUX, Lamp

# Nearer to a lamp than this nothing is lit, metres: a bulb has an extent.
_NEAREST = 0.05


def received(
    lamp: Lamp, pose: np.ndarray, points: np.ndarray, normals: np.ndarray, profile: np.ndarray | None = None
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Light of a lamp on surfaces that face it, by the inverse square and the cosine, as if nothing were between.

    :param pose: of the lamp, rigid float64 (4, 4). :param points, normals: float (N, 3), metres, and unit.
    :param profile: as for :meth:`Lamp.candela`.
    :returns: linear sRGB against the sun's light, float64 (N, 3); unit ways to the lamp, float64 (N, 3); how far it is, float64 (N,), metres.
    """
    to = pose[:3, 3] - np.asarray(points, np.float64)
    far = np.maximum(np.linalg.norm(to, axis=1), _NEAREST)
    ways = to / far[:, None]
    sent = lamp.candela(-ways @ pose[:3, :3], profile) / SUN_LUX
    level = sent * np.maximum((normals * ways).sum(1), 0) / far**2
    return level[:, None] * lamp.colour, ways, far
