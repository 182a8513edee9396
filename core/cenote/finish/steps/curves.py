"""Tones by a curve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from scipy.interpolate import PchipInterpolator

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step


def _becomes(tone: float, help: str) -> Any:
    return quantity(tone, low=0, high=1, unit="", step=0.01, help=help)


@STEPS.register
class Curves(Step):
    """Draws tones along a curve through five points."""

    kind: Literal["curves"] = "curves"
    title: ClassVar[str] = "Curve"
    help: ClassVar[str] = "Tones along a curve: what black, dark, middle, light and white become."
    domain: ClassVar[Domain] = "tones"
    by_colour: ClassVar[bool] = True
    black: float = _becomes(0, "What becomes of black.")
    dark: float = _becomes(0.25, "What becomes of a quarter.")
    middle: float = _becomes(0.5, "What becomes of a half.")
    light: float = _becomes(0.75, "What becomes of three quarters.")
    white: float = _becomes(1, "What becomes of white.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Through its points without overshooting (Fritsch and Carlson, 1980)."""
        through = [self.black, self.dark, self.middle, self.light, self.white]
        return np.asarray(PchipInterpolator(np.linspace(0, 1, 5), through)(np.clip(picture, 0, 1)), np.float32)
