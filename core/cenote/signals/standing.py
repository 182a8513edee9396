"""Standing water: hollows that rain fills."""

from __future__ import annotations

from typing import Literal

import numpy as np
from scipy import ndimage

from ..geometry.plan import Plan, cell_of, heights_from_above, ponds
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# Side of a square of the height field, metres, and at most how many there are.
_FINEST, _MOST = 0.05, 2_000_000


@SIGNALS.register
class StandingWater(Signal):
    """How deep water would stand after rain, in hollows of whatever lies on top."""

    kind: Literal["standing"] = "standing"
    deepest: float = quantity(
        0.1, low=0.005, high=5, unit="m", step=0.005, help="A hollow holds no more than this above its floor."
    )
    reading = Reading("Standing water", "cm", 0, 20)
    on_cells = True
    pointwise = False
    suggested = (0.0, 1.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        plan: Plan = scene.shared("plan", lambda: _plan(scene))
        level, tops = scene.shared(("ponds", self.deepest), lambda: _levels(plan, self.deepest))
        row, column = plan.at(samples.positions)
        # Only what lies on top fills; under a roof or a deck no rain collects.
        on_top = (samples.positions[:, 1] > tops[row, column] - plan.cell) & (samples.normals[:, 1] > 0.2)
        depth = np.where(on_top, level[row, column] - samples.positions[:, 1], 0)
        return (100 * np.clip(depth, 0, self.deepest)).astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.all_of("object"), (len(low), len(around)))


def _plan(scene: MeasuredScene) -> Plan:
    low, high = scene.bounds
    return heights_from_above(scene.rays, low, high, cell_of(low, high, _FINEST, _MOST))


def _levels(plan: Plan, deepest: float) -> tuple[np.ndarray, np.ndarray]:
    """Levels of ponds, drawn one square beyond their edge so that the shore is found within a square; and the lowest
    top around each square."""
    level = ponds(plan.heights, deepest)
    around = ndimage.maximum_filter(level, 3)
    return np.where(np.isfinite(level), level, around), ndimage.minimum_filter(plan.heights, 3)
