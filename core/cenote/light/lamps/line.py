"""Lamps that are a line: tubes."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from .base import LAMPS, Beam, Lamp


@LAMPS.register
class LineLamp(Lamp):
    """A straight tube that shines all around it, and little along itself."""

    kind: Literal["line_lamp"] = "line_lamp"
    title: ClassVar[str] = "Line lamp"
    help: ClassVar[str] = "A straight tube that shines all around it, and little along itself."
    long: float = quantity(1.2, low=0.05, high=50, unit="m", step=0.05, help="How long it is.")

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """By the sine of the angle to the tube, as a thin shining cylinder has it; it lies along X."""
        return self.flux / np.pi**2 * np.sqrt(np.maximum(1 - ways[:, 0] ** 2, 0))

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """All around."""
        return Beam(self._along(self.flux / np.pi**2), 180, 180, 0.0, self.long)
