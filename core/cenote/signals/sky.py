"""Sky exposure."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT, hemisphere, open_share
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

RAYS = 64


def _sky() -> np.ndarray:
    """The same directions everywhere, spread by the cosine about straight up: a level point then needs no weights."""
    return np.ascontiguousarray(hemisphere(RAYS)[:, [0, 2, 1]])


@SIGNALS.register
class SkyExposure(Signal):
    """How much of the sky a point sees, 1 for open level ground. An overcast sky: what it sees is what it is lit by."""

    kind: Literal["sky"] = "sky"
    reading = Reading("Sky exposure", "", 0, 1)
    on_cells = True
    suggested = (0.05, 0.5)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return np.minimum(open_share(scene.rays, samples.positions, samples.normals, _sky(), False), 1)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        lift = 2 * LIFT
        return around.all_of("object") & around.along(low - lift, high + lift, _sky())
