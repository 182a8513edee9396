"""Lamps that are a surface: a lit window, a light box."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from .base import LAMPS, Beam, Lamp


@LAMPS.register
class AreaLamp(Lamp):
    """A flat surface that shines to one side, dimmer the more one looks along it."""

    kind: Literal["area_lamp"] = "area_lamp"
    title: ClassVar[str] = "Area lamp"
    help: ClassVar[str] = "A flat surface that shines to one side: a lit window, a light box. Its shadows are soft."
    wide: float = quantity(0.8, low=0.01, high=50, unit="m", step=0.05, help="How wide it is.")
    long: float = quantity(1.2, low=0.01, high=50, unit="m", step=0.05, help="How long it is.")

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """By Lambert's cosine law."""
        return self.flux / np.pi * np.maximum(-ways[:, 1], 0)

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """Half of all around."""
        return Beam(self._along(self.flux / np.pi), 90, 0, self.wide, self.long)
