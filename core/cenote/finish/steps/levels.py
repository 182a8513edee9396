"""Which tones are black and white."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity, span
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class Levels(Step):
    """Spreads tones between a black and a white."""

    kind: Literal["levels"] = "levels"
    title: ClassVar[str] = "Levels"
    help: ClassVar[str] = "Which tones become black and white, and how bright those between are."
    domain: ClassVar[Domain] = "tones"
    by_colour: ClassVar[bool] = True
    between: tuple[float, float] = span((0, 1), low=0, high=1, unit="", help="Tones that become black and white.")
    middle: float = quantity(
        1, low=0.1, high=5, unit="", step=0.05, help="Above 1 makes what lies between them brighter."
    )
    becomes: tuple[float, float] = span((0, 1), low=0, high=1, unit="", help="How dark black is, and how bright white.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """A line with a bend."""
        (black, white), (low, high) = self.between, self.becomes
        spread = np.clip((picture - black) / max(white - black, 1e-3), 0, 1) ** (1 / self.middle)
        return np.asarray(low + (high - low) * spread)
