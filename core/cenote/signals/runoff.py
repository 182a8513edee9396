"""Runoff: water that has come down over surfaces."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

import numpy as np
from pydantic import Field

from ..geometry.flow import FlowField, FlowNodes, Trails, passed_over, rained_on, traced
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# Places where rain is let fall over a whole scene; and m² that each of them stands for over a region of a wide one.
_DROPS, _EACH = 40_000, 0.06


def _trails(scene: MeasuredScene) -> tuple[np.ndarray, float, list[Trails]]:
    """Where rain fell, the side of the square that each drop stands for, and its ways: the same whatever is counted."""
    low, high = scene.bounds
    most = _DROPS if scene.region is None else max(_DROPS, int((high[0] - low[0]) * (high[2] - low[2]) / _EACH))
    places, faces, cell = rained_on(scene.rays, low, high, most)
    return faces, cell, list(traced(scene.rays, scene.normals, places, faces, cell, scene.region))


@SIGNALS.register
class Runoff(Signal):
    """How much surface drains past a point, in metres: it grows down a slope, and where water gathers or drips."""

    kind: Literal["runoff"] = "runoff"
    objects: tuple[str, ...] = Field(
        (),
        max_length=2001,
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
        faces, cell, trails = scene.shared("water's trails", lambda: _trails(scene))
        some: Iterable[Trails] = trails
        if self.objects:
            counts = np.isin(scene.owners, [row for row, name in enumerate(scene.names) if name in self.objects])
            some = passed_over(trails, faces, counts)
        nodes = scene.shared("flow nodes", lambda: FlowNodes(scene.corners_here, max(0.05, 1.5 * cell)))
        return FlowField(some, nodes)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.all_of("object"), (len(low), len(around)))
