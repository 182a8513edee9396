"""Colours of dark, middle and bright tones."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import colour as declared_colour
from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class ColourBalance(Step):
    """Slope, offset and power of each colour."""

    kind: Literal["colour_balance"] = "colour_balance"
    title: ClassVar[str] = "Colour balance"
    help: ClassVar[str] = (
        "Slope, offset and power of red, green and blue, as colour decision lists have them: they tint bright, dark and middle tones."
    )
    domain: ClassVar[Domain] = "tones"
    by_colour: ClassVar[bool] = True
    slope: tuple[float, float, float] = declared_colour(
        (0.5, 0.5, 0.5), help="Tint of bright tones; grey changes nothing."
    )
    offset: tuple[float, float, float] = declared_colour(
        (0.5, 0.5, 0.5), help="Tint of dark tones; grey changes nothing."
    )
    power: tuple[float, float, float] = declared_colour(
        (0.5, 0.5, 0.5), help="Tint of middle tones; grey changes nothing."
    )
    strength: float = quantity(40, low=0, high=100, unit="%", step=1, help="How far the tints go.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """As the ASC Color Decision List (version 1.2, 2009) has it: (value × slope + offset) to a power."""
        far = self.strength / 100
        slope, offset, power = (far * (2 * np.array(one) - 1) for one in (self.slope, self.offset, self.power))
        return np.asarray(np.clip(picture * 2.0**slope + 0.5 * offset, 0, 1) ** 2.0**-power, np.float32)
