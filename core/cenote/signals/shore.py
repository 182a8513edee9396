"""Distance to water."""

from __future__ import annotations

from typing import Literal

import numpy as np
from scipy import ndimage

from ..geometry.plan import cell_of, heights_from_above
from .around import EXTENT, GROUND, WATER, Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

_FAR = 1000.0
_FINEST, _MOST = 0.1, 1_000_000


@SIGNALS.register
class FromWater(Signal):
    """How far it is to the water's edge, seen from above: below 0 over the water, above 0 on land."""

    kind: Literal["shore"] = "shore"
    reading = Reading("Distance from water", "m", -5, 20)
    suggested = (3, 0.5)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        if scene.water_level is None:
            return np.full(len(samples), _FAR, np.float32)
        (x0, z0), cell, field = scene.shared(
            ("shore", scene.water_level), lambda: _field(scene, float(scene.water_level or 0))
        )
        at = [(samples.positions[:, 2] - z0) / cell - 0.5, (samples.positions[:, 0] - x0) / cell - 0.5]
        return ndimage.map_coordinates(field, at, order=1, mode="nearest").astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.only(WATER, EXTENT, ("object", GROUND)), (len(low), len(around)))


def _field(scene: MeasuredScene, level: float) -> tuple[tuple[float, float], float, np.ndarray]:
    """Signed distances on a grid over the ground, to the border between squares above and below the level."""
    ground = scene.objects.get(GROUND)
    low, high = scene.bounds
    if ground:
        flat = ground.corners.reshape(-1, 3).astype(float)
        low, high = flat.min(0), flat.max(0)
    cell = cell_of(low, high, _FINEST, _MOST)
    plan = heights_from_above(scene.ground_rays, low, high, cell)
    wet = plan.heights < level
    if not wet.any():
        return plan.origin, cell, np.full(wet.shape, _FAR)
    if wet.all():
        return plan.origin, cell, np.full(wet.shape, -_FAR)
    land, water = (ndimage.distance_transform_edt(mask) * cell for mask in (~wet, wet))
    return plan.origin, cell, np.where(wet, cell / 2 - water, land - cell / 2)
