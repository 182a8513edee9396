"""An even field."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from ..canvas import Canvas
from .base import PATTERNS, Pattern


@PATTERNS.register
class Plain(Pattern):
    """The same everywhere: a first coat, or a wash over all."""

    kind: Literal["plain"] = "plain"
    title: ClassVar[str] = "Plain"
    value: float = quantity(1, low=0, high=1, unit="", step=0.01, help="How bright it is.")

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        return np.full(x.shape, self.value, np.float32)
