"""What falls from plants: leaves under them and downwind of them."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numba import njit
from pydantic import Field
from scipy import ndimage

from ..geometry.compass import blown_from
from ..geometry.plan import cell_of
from ..parameters import quantity
from .around import EXTENT, Around
from .base import SIGNALS, Reading, Signal
from .scene import Bodies, MeasuredScene, Samples

_FINEST, _MOST = 0.1, 1_000_000


@njit(cache=True, nogil=True)
def _strew(field, x0, z0, cell, positions, radii, along, ax, az, drifts):  # type: ignore
    rows, columns = field.shape
    for i in range(len(positions)):
        # An even fall from a crown, blurred by the way down; drawn out along the wind.
        wide, long = radii[i], radii[i] + 0.5 * drifts[i]
        cx, cz = positions[i, 0] + ax * drifts[i] * 0.5 * along, positions[i, 2] + az * drifts[i] * 0.5 * along
        reach = 2.5 * long
        c0, c1 = max(0, int((cx - reach - x0) / cell)), min(columns - 1, int((cx + reach - x0) / cell))
        r0, r1 = max(0, int((cz - reach - z0) / cell)), min(rows - 1, int((cz + reach - z0) / cell))
        for r in range(r0, r1 + 1):
            for c in range(c0, c1 + 1):
                dx, dz = x0 + (c + 0.5) * cell - cx, z0 + (r + 0.5) * cell - cz
                u, v = (dx * ax + dz * az) / long, (dz * ax - dx * az) / wide
                field[r, c] += np.exp(-(u * u + v * v)) * wide / long


@SIGNALS.register
class LeafFall(Signal):
    """How thickly leaves of chosen planting lie: 1 or so in the midst of a crown's fall, less around it and downwind."""

    kind: Literal["leaf_fall"] = "leaf_fall"
    layers: tuple[str, ...] = Field(
        (), max_length=60, description="The planting that leaves fall from.", json_schema_extra={"picks": "planting"}
    )
    bearing: float = quantity(
        240, low=0, high=360, unit="°", step=5, help="Compass bearing that the wind comes from; 270° is west."
    )
    drift: float = quantity(
        0.5, low=0, high=5, unit="×", step=0.05, help="How far leaves drift, against the height that they fall from."
    )
    reading = Reading("Leaf fall", "", 0, 2)
    suggested = (0.05, 0.7)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        if not self.layers:
            return np.zeros(len(samples), np.float32)
        key = ("leaf fall", self.layers, self.bearing, self.drift)
        origin, cell, field = scene.worked_out(key, lambda: self._field(scene))
        at = [(samples.positions[:, 2] - origin[1]) / cell - 0.5, (samples.positions[:, 0] - origin[0]) / cell - 0.5]
        return np.asarray(ndimage.map_coordinates(field, at, order=1, mode="nearest"), np.float32)

    def _field(self, scene: MeasuredScene) -> tuple[tuple[float, float], float, np.ndarray]:
        low, high = scene.bounds
        cell = cell_of(low, high, _FINEST, _MOST)
        columns, rows = (max(1, int(np.ceil((high[axis] - low[axis]) / cell))) for axis in (0, 2))
        field = np.zeros((rows, columns), np.float32)
        along, aside = blown_from(self.bearing)
        for name in self.layers:
            bodies: Bodies = scene.bodies(name)
            drifts = self.drift * bodies.heights * 0.7
            radii = np.maximum(bodies.radii, cell)
            _strew(field, low[0], low[2], cell, bodies.positions, radii, 1.0, along, aside, drifts)
        return (float(low[0]), float(low[2])), cell, field

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        looked_at = around.only(EXTENT) if self.layers else around.only()
        return np.broadcast_to(looked_at, (len(low), len(around)))

    def looks_at(self) -> tuple[str, ...]:
        return self.layers
