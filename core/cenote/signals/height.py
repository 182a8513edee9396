"""Height above the site's zero, or above the water."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..parameters import switch
from .around import WATER, Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class Height(Signal):
    """How high a point is, in metres."""

    kind: Literal["height"] = "height"
    above_water: bool = switch(False, help="Count from the water's level in place of the site's zero.")
    reading = Reading("Height", "m", -5, 15)
    suggested = (1.5, 0.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        zero = scene.water_level if self.above_water and scene.water_level is not None else 0.0
        return samples.positions[:, 1] - np.float32(zero)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        looked_at = around.only(WATER) if self.above_water else around.only()
        return np.broadcast_to(looked_at, (len(low), len(around)))
