"""Smoothing what few rays leave to chance."""

from __future__ import annotations

import numpy as np
from numba import njit

from ..parallel import over_rows, rows_of

# Binomial weights of a cell's neighbours in a row, and how many times the grain a neighbour may differ to count at all.
_WEIGHTS = np.array([1, 4, 6, 4, 1], np.float32)
_FARTHEST = 7.0


@njit(cache=True, nogil=True, fastmath=True)
def _smooth(values, charts, weights, farthest, out, first, beyond):  # type: ignore
    rows, columns = values.shape
    reach = len(weights) // 2
    scale = np.float32(1 / (farthest * farthest))
    for y in range(first, beyond):
        for x in range(columns):
            if charts[y, x] < 0:
                continue
            here = values[y, x]
            total, sum_ = np.float32(0), np.float32(0)
            for j in range(max(-reach, -y), min(reach, rows - 1 - y) + 1):
                for i in range(max(-reach, -x), min(reach, columns - 1 - x) + 1):
                    if charts[y + j, x + i] != charts[y, x]:
                        continue
                    other = values[y + j, x + i]
                    near = np.float32(1) - (other - here) * (other - here) * scale
                    if near > 0:
                        weight = weights[reach + j] * weights[reach + i] * near * near
                        total += weight
                        sum_ += weight * (other - here)
            out[y, x] = here + sum_ / total


def smoothed(values: np.ndarray, charts: np.ndarray, grain: float) -> np.ndarray:
    """Values on cells without what is chance: the mean of a cell's neighbours within two cells, of those in the same chart,
    nearer ones counting more, and those less that differ more (Tomasi and Manduchi, "Bilateral Filtering for Gray and
    Color Images", 1998, with Tukey's biweight). Steps of more than seven times the grain are kept as they are.

    :param values: float32 (h, w). :param charts: int32 (h, w), -1 where there is no surface.
    :param grain: the standard deviation of chance, above 0.
    :returns: float32 (h, w); 0 where there is no surface.
    """
    out = np.zeros_like(values)
    over_rows(
        lambda a, b: _smooth(values, charts, _WEIGHTS, _FARTHEST * grain, out, a, b),
        len(values),
        rows_of(values.shape[1]),
    )
    return out
