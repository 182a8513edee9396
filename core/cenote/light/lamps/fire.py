"""Fires: a flame and its light."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import only, quantity
from ..flames import Flame
from .base import LAMPS, SUN_LUX, Beam, Lamp

# Of a flame's height, where its light seems to come from.
_HEART = 0.4
# Of a wood fire, cd/m²: of what has just begun to burn, of its middle, and of its tips.
_BRIGHT = np.array([[2600, 1250, 260], [2400, 720, 70], [1300, 170, 10]], float)


@LAMPS.register
class Fire(Lamp):
    """A small open fire: flames that the wind leans, and their light."""

    kind: Literal["fire"] = "fire"
    title: ClassVar[str] = "Fire"
    help: ClassVar[str] = (
        "A small open fire: flames that the wind leans, and their light. It burns upwards from where it stands."
    )
    lumens: float = only(
        "measure",
        "lumens",
        quantity(1500, low=0, high=500_000, unit="lm", step=50, help="Light that it sends in all; a candle has 12."),
    )
    kelvin: float = quantity(
        1850, low=1000, high=15000, unit="K", step=50, help="Colour of its light by temperature: a candle has 1900."
    )
    wide: float = quantity(0.35, low=0.02, high=5, unit="m", step=0.05, help="How wide it is at its foot.")
    tall: float = quantity(0.55, low=0.03, high=8, unit="m", step=0.05, help="How high its flames reach.")

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """The same along all ways."""
        return np.full(len(ways), self.flux / (4 * np.pi))

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """All around, from within the flame."""
        flame = Flame(self.wide, self.tall, _BRIGHT * np.array(self.tint) / SUN_LUX)
        return Beam(self._along(self.flux / (4 * np.pi)), 180, 180, flame=flame, heart=_HEART * self.tall)
