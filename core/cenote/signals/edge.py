"""Convex edges, by rays that leave the body again."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.rays import LIFT, hemisphere, turned_to
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

RAYS = 32
_CHUNK = 1 << 15


@SIGNALS.register
class Edge(Signal):
    """How much the surface bends away within a radius: 0 is flat or hollow, 1 a right-angled edge or sharper."""

    kind: Literal["edge"] = "edge"
    radius: float = quantity(
        0.06, low=0.005, high=2, unit="m", step=0.005, help="How far from an edge it still counts."
    )
    reading = Reading("Convex edge", "", 0, 1)
    on_cells = True
    suggested = (0.15, 0.6)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        # Rays go into the body; near an edge some come out of it again within the radius. What comes out of the far
        # side of a thin board has not turned an edge: there the face looks straight away from where the ray began.
        pattern = hemisphere(RAYS)
        normals = scene.normals
        out = np.zeros(len(samples), np.float32)
        for start in range(0, len(samples), _CHUNK):
            part = slice(start, start + _CHUNK)
            here = samples.normals[part]
            origins = np.repeat(samples.positions[part] - here * np.float32(LIFT), RAYS, axis=0)
            directions = turned_to(-here, pattern, samples.positions[part]).reshape(-1, 3)
            rows, _far = scene.rays.hits(origins, directions, self.radius)
            met = normals[rows]
            leaves = (rows >= 0) & ((met * directions).sum(1) > 0)
            turned = np.clip(1 + (met * np.repeat(here, RAYS, axis=0)).sum(1), 0, 1)
            out[part] = np.minimum((leaves * turned).reshape(-1, RAYS).mean(1) * 2, 1)
        return out

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.all_of("object") & around.near(low, high, self.radius + 2 * LIFT)
