"""Colour factors of placed items, so that they sit with their surroundings."""

from __future__ import annotations

import numpy as np

from ..colour import LUMINANCE
from .layer import Match


def match_factor(match: Match, average: np.ndarray) -> np.ndarray:
    """The factor that takes an item's average colour where a match wants it.

    :param average: the item's own colour, linear float (3,). :returns: float64 (3,), at most 20.
    """
    average = np.maximum(np.asarray(average, float), 1e-3)
    grey = average @ LUMINANCE
    # The tint shifts the hue and leaves the brightness as it is.
    tint = np.maximum(np.array(match.tint), 1e-3)
    towards = tint * grey / (tint @ LUMINANCE)
    goal = average + (towards - average) * match.tinted / 100
    goal = grey + (goal - grey) * match.saturation
    return np.clip(np.maximum(goal, 1e-3) * match.brightness / average, 0, 20)


def suggested_match(average: np.ndarray, surroundings: np.ndarray) -> Match:
    """A match that lets an item sit with what is round it: its brightness within 0.7 and 1.5 times theirs, no more
    colourful than half as much again, and a third of the way to their hue.

    :param average, surroundings: linear float (3,).
    """
    own, other = (np.maximum(np.asarray(one, float), 1e-3) for one in (average, surroundings))
    bright, around = own @ LUMINANCE, other @ LUMINANCE
    factor = np.clip(bright / around, 0.7, 1.5) * around / bright

    def colourful(colour: np.ndarray) -> float:
        return float(np.ptp(colour) / colour.max())

    saturation = min(1.0, (1.5 * colourful(other) + 0.15) / max(colourful(own), 1e-3))
    tint = tuple(float(value) for value in np.clip(other / other.max(), 0, 1))
    return Match(tint=tint, tinted=round(100 / 3), brightness=round(float(np.clip(factor, 0.1, 4)), 3),
                 saturation=round(saturation, 3))  # fmt: skip
