"""``ground.dab``: one dab of each brush on ground of 512² points."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from measuring import Figure, seconds
from scipy.ndimage import gaussian_filter

from cenote.geometry.sculpt import TOOLS, sculpted

POINTS, RADIUS = 512, 40


def figures() -> Iterator[Figure]:
    """The slowest brush, and SciPy's Gaussian filter over the whole ground beside it."""
    heights = np.random.default_rng(1).normal(size=(POINTS, POINTS))
    path = np.array([[POINTS / 2, POINTS / 2]])

    def dab(tool: str) -> None:
        sculpted(heights, (0, 0), (1, 1), path, tool=tool, radius=RADIUS, strength=0.5, soft=0.7)

    taken = {tool: seconds(lambda tool=tool: dab(tool), times=9) * 1000 for tool in TOOLS}  # type: ignore[misc]
    slowest = max(taken, key=lambda tool: taken[tool])
    yield Figure(
        "ground.dab",
        taken[slowest],
        "ms",
        f" with the slowest brush, {slowest}; {POINTS}² points, {RADIUS} of them radius",
    )
    plain = seconds(lambda: gaussian_filter(heights, 3)) * 1000
    yield Figure("ground.dab.ratio", taken[slowest] / plain, "×", " the time of a Gaussian filter over all points")
