"""Bars that leave other proportions."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class Letterbox(Step):
    """Leaves a picture of other proportions between black bars."""

    kind: Literal["letterbox"] = "letterbox"
    title: ClassVar[str] = "Letterbox"
    help: ClassVar[str] = "Black bars that leave a picture of other proportions."
    domain: ClassVar[Domain] = "tones"
    ratio: float = quantity(2.39, low=0.5, high=4, unit="", step=0.01, help="Width over height of what is left.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Black beyond what is left."""
        height, width = picture.shape[:2]
        out = picture.copy()
        rows, columns = (round(max(0.0, one) / 2) for one in (height - width / self.ratio, width - height * self.ratio))
        if rows:
            out[:rows] = out[height - rows :] = 0
        if columns:
            out[:, :columns] = out[:, width - columns :] = 0
        return out
