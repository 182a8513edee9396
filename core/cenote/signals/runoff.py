"""Runoff: water that has come down over surfaces."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ..geometry.flow import FlowField, FlowNodes, rained_on, traced
from .base import SIGNALS, Around, MeasuredScene, Reading, Samples, Signal

# Places where rain is let fall over a whole scene.
_DROPS = 40_000


@SIGNALS.register
class Runoff(Signal):
    """How much surface drains past a point, in metres: it grows down a slope, and where water gathers or drips."""

    kind: Literal["runoff"] = "runoff"
    objects: tuple[str, ...] = Field(
        (),
        max_length=500,
        description="Only water that has run over these objects counts; none chosen means all water.",
        json_schema_extra={"picks": "objects"},
    )
    reading = Reading("Runoff", "m", 0, 10)
    on_cells = True
    pointwise = False
    suggested = (0.3, 2.5)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        if not len(scene.corners):
            return np.zeros(len(samples), np.float32)
        field: FlowField = scene.shared(("runoff", self.objects), lambda: self._field(scene))
        return field.at(samples.positions, samples.normals)

    def _field(self, scene: MeasuredScene) -> FlowField:
        low, high = scene.bounds
        places, faces, cell = rained_on(scene.rays, low, high, _DROPS)
        names = sorted(scene.objects)
        counts = np.array([not self.objects or name in self.objects for name in names], bool)[scene.owners]
        trails = traced(scene.rays, scene.corners, places, faces, cell, counts)
        nodes = scene.shared("flow nodes", lambda: FlowNodes(scene.corners, max(0.05, 1.5 * cell)))
        return FlowField(trails, nodes)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.all_of("object"), (len(low), len(around)))
