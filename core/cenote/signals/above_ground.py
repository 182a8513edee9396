"""Height above the ground."""

from __future__ import annotations

from typing import Literal

import numpy as np

from .around import GROUND, Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class AboveGround(Signal):
    """How high a point is above the ground straight below it; where there is no ground, above the site's zero."""

    kind: Literal["above_ground"] = "above_ground"
    reading = Reading("Height above ground", "m", -1, 10)
    on_cells = True
    suggested = (0.8, 0.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        top = max(scene.bounds[1][1], float(samples.positions[:, 1].max(initial=0))) + 1
        _, ground = scene.ground_rays.from_above(samples.positions[:, 0], samples.positions[:, 2], float(top))
        return (samples.positions[:, 1] - np.where(np.isfinite(ground), ground, 0)).astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.only(("object", GROUND)), (len(low), len(around)))
