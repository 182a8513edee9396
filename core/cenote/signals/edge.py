"""Convex edges, by how far the surface itself bends."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..geometry.edges import Bends, bends, bent_about
from ..geometry.rays import LIFT
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class Edge(Signal):
    """How much the surface bends away within a radius: 0 is flat or hollow, 1 a right-angled edge or sharper."""

    kind: Literal["edge"] = "edge"
    radius: float = quantity(
        0.06, low=0.005, high=2, unit="m", step=0.005, help="How far from an edge it still counts."
    )
    reading = Reading("Convex edge", "", 0, 1)
    suggested = (0.15, 0.6)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        if samples.owner in scene.objects:
            return bent_about(self._bends(scene, samples.owner), samples.positions, samples.normals)
        # What a short ray onto its own surface meets tells which object each sample lies on.
        out = np.zeros(len(samples), np.float32)
        start = samples.positions + samples.normals * np.float32(LIFT)
        rows, _far = scene.rays.hits(start, -samples.normals, 4 * LIFT)
        owners = np.where(rows >= 0, scene.owners[np.maximum(rows, 0)], -1) if scene.rays.triangles else rows
        for owner in np.unique(owners[owners >= 0]).tolist():
            name = scene.names[owner]
            if name in scene.objects:
                mine = np.flatnonzero(owners == owner)
                out[mine] = bent_about(self._bends(scene, name), samples.positions[mine], samples.normals[mine])
        return out

    def _bends(self, scene: MeasuredScene, name: str) -> Bends:
        one = scene.objects[name]
        return one.once(("bends", self.radius), lambda: bends(one.corners, self.radius))

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return around.all_of("object") & around.near(low, high, 4 * LIFT)
