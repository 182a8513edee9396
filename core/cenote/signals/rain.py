"""Rain exposure."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.compass import towards
from ..geometry.rays import LIFT, hemisphere, turned_to
from ..light.precipitation import RAIN_FALLS
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

RAYS = 16
# Radians by which gusts spread the fall about its mean.
_SPREAD = np.radians(9)


@SIGNALS.register
class RainExposure(Signal):
    """How much rain meets the surface: 1 where it looks straight into the rain with nothing in the way."""

    kind: Literal["rain"] = "rain"
    bearing: float = quantity(
        240, low=0, high=360, unit="°", step=5, help="Compass bearing that the wind comes from; 270° is west."
    )
    wind: float = quantity(
        4, low=0, high=30, unit="m/s", step=0.5, help="Speed of the wind; at 6.5 m/s rain falls at 45°."
    )
    reading = Reading("Rain exposure", "", 0, 1)
    on_cells = True
    suggested = (0.05, 0.6)

    def source(self) -> np.ndarray:
        """The unit direction that rain comes from, float32 (3,)."""
        way = towards(self.bearing) * self.wind / RAIN_FALLS + [0, 1, 0]
        return (way / np.linalg.norm(way)).astype(np.float32)

    def _ways(self) -> np.ndarray:
        """Directions that drops come from, spread by gusts: unit float32 (RAYS, 3)."""
        cone = hemisphere(RAYS) * np.array([np.sin(_SPREAD), np.sin(_SPREAD), 1], np.float32)
        cone[:, 2] = np.sqrt(1 - (cone[:, :2] ** 2).sum(1))
        return np.asarray(turned_to(self.source()[None], cone)[0])

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        ways = self._ways()
        origins = samples.positions + samples.normals * np.float32(LIFT)
        out = np.zeros(len(samples), np.float32)
        for way in ways:
            square = samples.normals @ way
            rows = np.flatnonzero(square > 0)
            open_ = ~scene.rays.occluded(origins[rows], np.broadcast_to(way, (len(rows), 3)).copy())
            out[rows] += square[rows] * open_
        return np.minimum(out / np.float32((ways @ self.source()).sum()), 1).astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        lift = 2 * LIFT
        return around.all_of("object") & around.along(low - lift, high + lift, self._ways())
