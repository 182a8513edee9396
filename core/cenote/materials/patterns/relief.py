"""The relief that lower layers have made, read back: its height, its edges, its hollows."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import choice, quantity
from ..canvas import Canvas, blurred
from .base import PATTERNS, Pattern


@PATTERNS.register
class Relief(Pattern):
    """What the layers below have built: bright on proud edges, in hollows, or simply by height."""

    kind: Literal["relief"] = "relief"
    title: ClassVar[str] = "Relief below"
    reads: Literal["height", "edges", "hollows"] = choice(
        "edges", label="Shows", help="All heights, proud edges, or hollows."
    )
    radius: float = quantity(0.008, low=0.0005, high=1, unit="m", step=0.001, help="How wide edges and hollows are.")
    strength: float = quantity(6, low=0.5, high=60, unit="×", step=0.5, help="How much a small step counts.")

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        if self.reads == "height":
            return canvas.height.copy()
        above = canvas.height - blurred(canvas.height, self.radius * canvas.pixels / canvas.size)
        return np.clip((above if self.reads == "edges" else -above) * np.float32(self.strength), 0, 1)
