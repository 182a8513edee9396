"""Layered noise."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import choice, count, extent, quantity
from ..canvas import Canvas, noise
from .base import PATTERNS, Pattern


@PATTERNS.register
class Clouds(Pattern):
    """Layered noise: drifts of tone, stains, fine grain, or streaks where it is drawn long."""

    kind: Literal["clouds"] = "clouds"
    title: ClassVar[str] = "Clouds"
    size: tuple[float, float] = extent(
        (0.3, 0.3), low=0.002, high=20, unit="m", help="Length of its largest features along and across the tile."
    )
    octaves: int = count(4, low=1, high=8, help="How many times finer features are added.")
    fade: float = quantity(0.55, low=0.2, high=0.9, unit="", step=0.01, help="How strong finer features stay.")
    shape: Literal["soft", "ridged", "billowed"] = choice(
        "soft", help="Soft drifts, sharp crests (ridged) or sharp valleys between swells (billowed)."
    )

    @property
    def finest(self) -> float:
        return min(self.size)

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        columns, rows = (canvas.cells(size) for size in self.size)
        octaves = canvas.octaves(self.octaves, min(columns, rows))
        return noise(x, y, columns, rows, octaves, self.fade, self.shape, key, self.octaves)
