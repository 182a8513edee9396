"""Sky exposure."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT, hemisphere, open_share
from .around import Around
from .base import SIGNALS, Reading, Signal
from .narrowed import narrowed
from .scene import MeasuredScene, Samples

RAYS = 64
# Metres up for each metre along the plan at which the lowest rays rise: what is lower from afar hides next to nothing.
_SLOPE = 1 / 12
_LOWEST = float(_SLOPE / np.hypot(1, _SLOPE))


@SIGNALS.register
class SkyExposure(Signal):
    """How much of the sky a point sees, 1 for open level ground. An overcast sky: what it sees is what it is lit by."""

    kind: Literal["sky"] = "sky"
    reading = Reading("Sky exposure", "", 0, 1)
    on_cells = True
    grain = 0.01
    suggested = (0.05, 0.5)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return open_share(scene.rays, samples.positions, samples.normals, hemisphere(RAYS), lowest=_LOWEST)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        lift = 2 * LIFT
        return around.all_of("object") & around.rising(low - lift, high + lift, _SLOPE)

    def meets(self, around: Around, samples: Samples) -> np.ndarray:
        return narrowed(super().meets(around, samples), around, samples, RAYS, lowest=_LOWEST)
