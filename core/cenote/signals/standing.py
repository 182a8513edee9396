"""Standing water: hollows that rain fills."""

from __future__ import annotations

from typing import Literal

import numpy as np
from scipy import ndimage

from ..geometry.plan import Plan, barriers, cell_of, heights_from_above, ponds
from ..parameters import quantity
from .around import Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples

# Side of a square of the height field, metres, and at most how many there are.
_FINEST, _MOST = 0.05, 2_000_000
# Walls that are found between squares, metres, and at most how many rays look for them.
_WALL, _LOOKS = 0.018, 8_000_000
# Metres below the level of a pond at which it is looked for from a place near its edge.
_SKIN = 1e-3


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
        if not len(scene.corners):
            return np.zeros(len(samples), np.float32)
        plan: Plan = scene.shared("plan", lambda: _plan(scene))
        ways = scene.shared("ways over", lambda: barriers(scene.rays, plan, _above(scene), _WALL, _LOOKS))
        level, inner, tops = scene.shared(("ponds", self.deepest), lambda: _levels(plan, self.deepest, ways))
        row, column = plan.at(samples.positions)
        # Only what lies on top fills; under a roof or a deck no rain collects.
        on_top = (samples.positions[:, 1] > tops[row, column] - plan.cell) & (samples.normals[:, 1] > 0.2)
        depth = np.where(on_top & inner[row, column], level[row, column] - samples.positions[:, 1], 0.0)
        rows = np.flatnonzero(on_top & ~inner[row, column])
        depth[rows] = _by_the_shore(plan, level, scene, samples.positions[rows], row[rows], column[rows])
        return (100 * np.clip(depth, 0, self.deepest)).astype(np.float32)

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.all_of("object"), (len(low), len(around)))


def _above(scene: MeasuredScene) -> float:
    return float(scene.bounds[1][1]) + 1


def _plan(scene: MeasuredScene) -> Plan:
    low, high = scene.bounds
    return heights_from_above(scene.rays, low, high, cell_of(low, high, _FINEST, _MOST))


def _levels(
    plan: Plan, deepest: float, ways: tuple[np.ndarray, np.ndarray]
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Levels of ponds; which squares lie inside one or far from any, so that their own level tells all; and the lowest top
    around each square."""
    level = ponds(plan.heights, deepest, ways)
    highest, lowest = ndimage.maximum_filter(level, 3), ndimage.minimum_filter(level, 3)
    return level, highest == lowest, ndimage.minimum_filter(plan.heights, 3)


def _by_the_shore(plan: Plan, level: np.ndarray, scene: MeasuredScene, places: np.ndarray, row: np.ndarray,
                  column: np.ndarray) -> np.ndarray:  # fmt: skip
    """How deep places lie below the water of ponds about them, metres, float64 (N,): of those from which the middle of a
    pond's square is seen just below its level, since what stands between keeps the water off."""
    depth = np.zeros(len(places))
    for down in (0, -1, 1):
        for across in (0, -1, 1):
            a = np.clip(row + down, 0, level.shape[0] - 1)
            b = np.clip(column + across, 0, level.shape[1] - 1)
            rows = np.flatnonzero(level[a, b] - places[:, 1] > depth)
            stands = level[a[rows], b[rows]]
            middle = np.column_stack([plan.origin[0] + (b[rows] + 0.5) * plan.cell, stands,
                                      plan.origin[1] + (a[rows] + 0.5) * plan.cell])  # fmt: skip
            seen = np.ones(len(rows), bool)
            # Twice, since a ray may slip through where two triangles meet.
            for under in (_SKIN, 2 * _SKIN):
                start = np.column_stack([places[rows, 0], stands, places[rows, 2]])
                way = middle - start
                far = np.linalg.norm(way, axis=1)
                start[:, 1] -= under
                # Within a skin of the level it is wet or not by less than can be seen.
                looks = seen & (places[rows, 1] < start[:, 1]) & (far > _SKIN)
                seen[looks] = scene.rays.distance(start[looks], way[looks] / far[looks, None]) > far[looks]
            depth[rows[seen]] = (stands - places[rows, 1])[seen]
    return depth
