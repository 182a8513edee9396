"""Ledges: how near below something that juts out a place lies."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class BelowLedge(Signal):
    """How near below a sill, a coping or an eave a place lies: 1 right below it, 0 beyond a depth. Leaks and runs begin where it is high."""

    kind: Literal["below_ledge"] = "below_ledge"
    depth: float = quantity(0.6, low=0.02, high=10, unit="m", step=0.05, help="How far below a ledge it still counts.")
    juts: float = quantity(
        0.02,
        low=0.001,
        high=1,
        unit="m",
        step=0.005,
        help="How far something has to jut out over the place to be a ledge.",
    )
    reading = Reading("Below a ledge", "", 0, 1)
    on_cells = True
    suggested = (0.5, 0.9)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        # From as far before the surface as a ledge has to jut out; what looks up is looked from where it lies.
        level = samples.normals * np.array([1, 0, 1], np.float32)
        out = np.maximum(np.linalg.norm(level, axis=1, keepdims=True), 1e-6)
        before = np.where(out > 0.3, level / out, 0) * np.float32(self.juts)
        origins = (samples.positions + samples.normals * np.float32(LIFT) + before).astype(np.float32)
        up = np.broadcast_to(np.array([0, 1, 0], np.float32), origins.shape).copy()
        rows, far = scene.rays.hits(origins, up, self.depth)
        # What looks up is the ground that the foot of a wall stands in.
        over = (rows >= 0) & (scene.normals[rows, 1] < -0.1)
        near = np.where(over, 1 - np.where(over, far, 0) / self.depth, 0)
        # What looks down is a ledge itself.
        return np.where(samples.normals[:, 1] < -0.5, 0, np.clip(near, 0, 1)).astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        aside = self.juts + 2 * LIFT
        low, high = low - aside, high + np.array([aside, self.depth + 2 * LIFT, aside])
        return around.all_of("object") & around.near(low, high)
