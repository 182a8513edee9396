"""Crevices, by ray-traced ambient occlusion."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT, hemisphere, open_share
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .narrowed import narrowed
from .scene import MeasuredScene, Samples

RAYS = 64


@SIGNALS.register
class Crevice(Signal):
    """How enclosed a point is by what stands within a radius: 0 is open, 1 a deep crack."""

    kind: Literal["crevice"] = "crevice"
    radius: float = quantity(
        0.6, low=0.02, high=10, unit="m", step=0.05, help="How far away something may be and still enclose the point."
    )
    reading = Reading("Crevice", "", 0, 1)
    on_cells = True
    grain = 0.015
    suggested = (0.1, 0.45)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        open_ = open_share(scene.rays, samples.positions, samples.normals, hemisphere(RAYS), self.radius)
        return 1 - open_

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.all_of("object") & around.near(low, high, self.radius + 2 * LIFT)

    def meets(self, around: Around, samples: Samples) -> np.ndarray:
        return narrowed(super().meets(around, samples), around, samples, RAYS, reach=self.radius)
