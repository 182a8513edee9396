"""Contrast and colourfulness."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...colour import LUMINANCE
from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class Contrast(Step):
    """Parts dark from bright, and colours from grey."""

    kind: Literal["contrast"] = "contrast"
    title: ClassVar[str] = "Contrast"
    help: ClassVar[str] = "Parts dark from bright about a tone that stays, and colours from grey."
    domain: ClassVar[Domain] = "tones"
    by_colour: ClassVar[bool] = True
    contrast: float = quantity(
        0, low=-100, high=100, unit="%", step=1, help="More parts tones, less brings them together."
    )
    stays: float = quantity(0.45, low=0.05, high=0.95, unit="", step=0.01, help="The tone that stays.")
    saturation: float = quantity(
        0, low=-100, high=100, unit="%", step=1, help="More parts colours from grey; -100 leaves grey."
    )

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """A curve on each side of the tone that stays, which keeps black and white; then away from grey of the same luminance."""
        power = 2.0 ** (self.contrast / 50)
        tones = np.clip(picture, 0, 1)
        below = self.stays * (tones / self.stays) ** power
        above = 1 - (1 - self.stays) * ((1 - tones) / (1 - self.stays)) ** power
        parted = np.where(tones < self.stays, below, above)
        grey = (parted @ LUMINANCE)[..., None]
        return np.asarray(np.clip(grey + (parted - grey) * (1 + self.saturation / 100), 0, 1), np.float32)
