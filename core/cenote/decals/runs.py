"""What runs down from an edge: streaks of many lengths side by side."""

from __future__ import annotations

import numpy as np
from numba import njit

from .base import Sheet, along_places, ramp


@njit(cache=True, nogil=True)
def _runs(x, y, top, runs, wander, out, first, beyond):  # type: ignore
    for i in range(first, beyond):
        down = top - y[i]
        dry = 1.0
        for k in range(len(runs)):
            at, wide, long, strength = runs[k]
            if down > long:
                continue
            share = max(down, 0.0) / long
            # It narrows as it goes, and ends in a rounded tip.
            here = wide * (1 - 0.45 * share)
            gap = (x[i] - at - wander[i] * min(down, 1.0)) / here
            if abs(gap) < 2.5:
                dry *= 1 - strength * np.exp(-gap * gap) * (1 - share) ** 0.6
        out[i] = 1 - dry


def runs_down(sheet: Sheet, many: int, width: float, evenness: float) -> np.ndarray:
    """How strongly something has run down from the upper edge, float32 (N,) in [0, 1].

    :param many: how many streaks there are. :param width: of one, metres. :param evenness: in [0, 1]: how alike in length they are.
    """
    dice = sheet.dice(1)
    # Nearer the middle there are more of them, and longer ones.
    at = dice.normal(0, 0.24, many).clip(-0.48, 0.48)
    longest = 1 - 1.2 * np.abs(at) ** 1.3
    long = sheet.height * longest * (evenness + (1 - evenness) * dice.random(many) ** 1.6)
    rows = np.column_stack([at * sheet.width, width * np.exp(dice.normal(0, 0.45, many)), np.maximum(long, 0.02 * sheet.height), dice.uniform(0.35, 0.95, many)])  # fmt: skip
    wander = (sheet.noise(max(0.3 * sheet.height, 0.05), 3, 7) - 0.5) * 0.08 * sheet.height
    # It begins raggedly, as what it comes from does.
    begins = sheet.height / 2 - sheet.y - 0.09 * sheet.height * sheet.noise(0.25 * sheet.width, 4, 8)
    return along_places(_runs, sheet, sheet.height / 2, rows, wander) * ramp(
        begins, -0.01 * sheet.height, 0.05 * sheet.height
    )
