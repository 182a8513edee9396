"""Darker corners."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step
from ..lens import away_from_middle


@STEPS.register
class Vignette(Step):
    """Darkens towards the corners, as lenses do."""

    kind: Literal["vignette"] = "vignette"
    title: ClassVar[str] = "Vignette"
    help: ClassVar[str] = "Darkens towards the corners as a lens does: by the fourth power of the cosine."
    domain: ClassVar[Domain] = "light"
    angle: float = quantity(25, low=0, high=80, unit="°", step=1, help="As if the corners were seen at this angle.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """By the law of the cosine's fourth power."""
        tangent = away_from_middle(*picture.shape[:2]) * np.tan(np.radians(self.angle))
        return np.asarray(picture / (1 + tangent[..., None] ** 2) ** 2, np.float32)
