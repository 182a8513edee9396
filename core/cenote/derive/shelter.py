"""What keeps rain off: above what height it falls freely, from place to place."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..signals.rain import RainExposure
from ..signals.scene import MeasuredScene
from .scene import WholeScene
from .site import Site
from .target import Read, Target

# Points along the longer side of the map, and the least that they lie apart, metres.
_MOST, _LEAST = 384, 0.1
# Where rain comes from, metres above all there is.
_ABOVE = 2.0


@dataclass(frozen=True)
class Sheltered:
    """Above what height rain falls freely.

    :ivar tops: float32 (rows, columns), metres, the height at which the drop is stopped that would pass height 0 at that place: rows along z,
        columns along x. :ivar low: float64 (2,), x and z of the first. :ivar cell: how far they lie apart, metres.
    :ivar source: unit float32 (3,), the direction that rain comes from.
    """

    tops: np.ndarray
    low: np.ndarray
    cell: float
    source: np.ndarray


@dataclass(frozen=True)
class Shelter(Target):
    """Where it rains under a wind: :class:`Sheltered`. It is what the signal *rain exposure* looks at, without its gusts."""

    bearing: float
    wind: float

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"scene": WholeScene(), "rain": RainExposure(bearing=self.bearing, wind=self.wind)}

    @staticmethod
    def make(read: Read) -> Sheltered:
        scene: MeasuredScene = read.scene
        return sheltered(scene, read.rain.source())


def sheltered(scene: MeasuredScene, source: np.ndarray) -> Sheltered:
    """Above what height rain from a direction falls freely in a scene. :param source: unit float (3,), upwards."""
    low, high = (np.asarray(one, float) for one in scene.bounds)
    way = np.asarray(source, float)
    # Drops are told by where they pass height 0: what is high is met by those that pass elsewhere.
    shifts = np.array([[height / way[1] * way[k] for k in (0, 2)] for height in (low[1], high[1])])
    least = low[[0, 2]] - shifts.max(0)
    most = high[[0, 2]] - shifts.min(0)
    cell = max(float((most - least).max()) / _MOST, _LEAST)
    columns, rows = (np.maximum(np.ceil((most - least) / cell), 1) + 1).astype(int)
    x, z = np.meshgrid(least[0] + np.arange(columns) * cell, least[1] + np.arange(rows) * cell)
    above = high[1] + _ABOVE
    origins = np.stack([x + way[0] / way[1] * above, np.full(x.shape, above), z + way[2] / way[1] * above], -1).reshape(
        -1, 3
    )
    far = scene.rays.distance(
        origins.astype(np.float32), np.broadcast_to(-way.astype(np.float32), origins.shape).copy()
    )
    tops = np.where(np.isfinite(far), above - far * way[1], low[1]).astype(np.float32)
    return Sheltered(tops.reshape(rows, columns), least, cell, np.asarray(source, np.float32))
