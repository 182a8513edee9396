"""Slope against the level."""

from __future__ import annotations

from typing import Literal

import numpy as np

from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class Slope(Signal):
    """How steep the surface is: 0° is level ground, 90° a wall, 180° a ceiling."""

    kind: Literal["slope"] = "slope"
    reading = Reading("Slope", "°", 0, 180)
    suggested = (40, 15)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return np.degrees(np.arccos(np.clip(samples.normals[:, 1], -1, 1))).astype(np.float32)
