"""Facing towards a direction."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.compass import towards
from ..parameters import quantity
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class Facing(Signal):
    """How squarely the surface faces a direction: 1 faces it, 0 lies along it, −1 turns its back."""

    kind: Literal["facing"] = "facing"
    height: float = quantity(
        90, low=-90, high=90, unit="°", step=5, help="Angle of the direction above the horizon; 90° is straight up."
    )
    bearing: float = quantity(
        0, low=0, high=360, unit="°", step=5, help="Compass bearing of the direction; 0° is north, 90° is east."
    )
    reading = Reading("Facing", "", -1, 1)
    suggested = (0.0, 0.8)

    def direction(self) -> np.ndarray:
        """The unit direction, float (3,); north is −Z, east is +X."""
        return towards(self.bearing, self.height).astype(np.float32)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return samples.normals @ self.direction()
