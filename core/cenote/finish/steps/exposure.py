"""Brighter or darker."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class Exposure(Step):
    """Makes light brighter or darker."""

    kind: Literal["exposure"] = "exposure"
    title: ClassVar[str] = "Exposure"
    help: ClassVar[str] = "Makes all brighter or darker, as a longer or shorter exposure does."
    domain: ClassVar[Domain] = "light"
    by_colour: ClassVar[bool] = True
    stops: float = quantity(0, low=-8, high=8, unit="EV", step=0.1, help="One more is twice as bright.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Light times a power of two."""
        return np.asarray(picture * np.float32(2.0**self.stops))
