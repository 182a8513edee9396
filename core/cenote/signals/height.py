"""Height above the site's zero, or above the water."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from ..parameters import switch
from .base import SIGNALS, Box, MeasuredScene, Reading, Samples, Signal


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

    def depends_on(self, scene: MeasuredScene, on: str | Box = "") -> list[Any]:
        return [scene.water_level] if self.above_water else []
