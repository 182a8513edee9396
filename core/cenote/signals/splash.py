"""Splash: what rain throws up from the ground."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# Directions outward and down along which the place is looked for that drops come from.
_ROUND, _DOWN = 5, (25.0, 50.0, 75.0)


@SIGNALS.register
class Splash(Signal):
    """What rain throws up from level places that it reaches: 1 right above them, 0 beyond a height."""

    kind: Literal["splash"] = "splash"
    height: float = quantity(0.5, low=0.05, high=3, unit="m", step=0.05, help="How high drops are thrown.")
    reading = Reading("Splash", "", 0, 1)
    on_cells = True
    suggested = (0.0, 0.6)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        normals = scene.normals
        origins = samples.positions + samples.normals * np.float32(LIFT)
        level = samples.normals * np.array([1, 0, 1], np.float32)
        length = np.linalg.norm(level, axis=1, keepdims=True)
        # What faces straight up or down is splashed from all sides.
        outward = np.where(length > 0.05, level / np.maximum(length, 1e-6), 0).astype(np.float32)
        aside = np.column_stack([outward[:, 2], np.zeros(len(samples)), -outward[:, 0]])
        total = np.zeros(len(samples), np.float32)
        up = np.broadcast_to(np.array([0, 1, 0], np.float32), origins.shape).copy()
        for angle in np.radians((np.arange(_ROUND) + 0.5) / _ROUND * 160 - 80):
            for down in np.radians(_DOWN):
                way = np.cos(down) * (np.cos(angle) * outward + np.sin(angle) * aside)
                way[:, 1] -= np.sin(down)
                flat = length[:, 0] <= 0.05
                way[flat] = [np.cos(down) * np.cos(2 * angle), -np.sin(down), np.cos(down) * np.sin(2 * angle)]
                way = way.astype(np.float32)
                rows, far = scene.rays.hits(origins, way, float(self.height / np.sin(down)))
                drop = np.where(rows >= 0, far, 0) * np.sin(down)
                lies = (rows >= 0) & (normals[rows, 1] > 0.7)
                places = origins + way * np.where(lies, far, 0)[:, None] + np.array([0, LIFT, 0], np.float32)
                wet = lies.copy()
                wet[lies] = ~scene.rays.occluded(places[lies].astype(np.float32), up[lies])
                total += wet * (1 - drop / self.height) ** 2
        return np.clip(total / (_ROUND * len(_DOWN)), 0, 1).astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        # Drops fly in from round about and from below; a roof however far above them decides whether any fell.
        wide = self.height / np.tan(np.radians(min(_DOWN))) + 2 * LIFT
        low, high = low - [wide, self.height + 2 * LIFT, wide], high + np.array([wide, np.inf, wide])
        return around.all_of("object") & around.near(low, high)
