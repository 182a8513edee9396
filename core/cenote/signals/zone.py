"""Inside and outside of zones."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ..geometry.sculpt import distance_to_outline
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

_FAR = 1000.0


@SIGNALS.register
class InZone(Signal):
    """How far a point lies within the nearest of the chosen zones, seen from above: below 0 outside, above 0 inside."""

    kind: Literal["zone"] = "zone"
    zones: tuple[str, ...] = Field(
        (),
        max_length=100,
        description="The zones that count; none chosen means all.",
        json_schema_extra={"picks": "zones"},
    )
    reading = Reading("Within zone", "m", -10, 10)
    suggested = (0.0, 0.5)

    def _chosen(self, scene: MeasuredScene) -> list[np.ndarray]:
        return [outline for name, outline in sorted(scene.zones.items()) if not self.zones or name in self.zones]

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        x, z = samples.positions[:, 0].astype(float), samples.positions[:, 2].astype(float)
        best = np.full(len(samples), -_FAR)
        for outline in self._chosen(scene):
            away, inside = distance_to_outline(x, z, outline)
            best = np.maximum(best, np.where(inside, away, -away))
        return best.astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.all_of("zone", self.zones), (len(low), len(around)))
