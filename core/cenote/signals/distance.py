"""Distance to chosen objects."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class Distance(Signal):
    """How far the nearest of the chosen objects is, to its surface, exactly."""

    kind: Literal["distance"] = "distance"
    objects: tuple[str, ...] = Field(
        (),
        description="The objects to measure to; none chosen means all structures.",
        json_schema_extra={"picks": "objects"},
    )
    reach: float = quantity(
        10, low=0.1, high=100, unit="m", step=0.5, help="Farther than this counts as this far, which keeps it quick."
    )
    reading = Reading("Distance", "m", 0, 10)
    suggested = (0.3, 1.5)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return scene.distance(scene.chosen(self.objects), samples.positions, self.reach)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.structures(self.objects) & around.near(low, high, self.reach)
