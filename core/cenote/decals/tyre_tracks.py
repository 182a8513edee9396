"""What wheels leave."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, quantity
from ..signals.slope import Slope
from .base import DECALS, Decal, Ink, Sheet, found, ramp


@DECALS.register
class TyreTracks(Decal):
    """Two tracks of tyres along the height of the box: pressed into what is soft, or rubber on what is hard."""

    kind: Literal["tyre_tracks"] = "tyre_tracks"
    title: ClassVar[str] = "Tyre tracks"
    help: ClassVar[str] = "Two tracks of tyres along the height of the box."
    size: ClassVar[tuple[float, float]] = (1.9, 5.0)
    reach: ClassVar[float] = 0.8
    tyre: float = quantity(0.2, low=0.02, high=1, unit="m", step=0.01, help="Width of a tyre.")
    apart: float = quantity(
        1.5,
        low=0,
        high=4,
        unit="m",
        step=0.05,
        help="From the middle of one tyre to that of the other; 0 for one wheel.",
    )
    lugs: float = quantity(
        0.055, low=0.01, high=0.5, unit="m", step=0.005, help="From one lug of the profile to the next."
    )
    depth: float = quantity(0.018, low=0, high=0.2, unit="m", step=0.002, help="How deep they are pressed in.")
    stain: float = quantity(55, low=0, high=100, unit="%", step=5, help="How dark they are.")
    colour: tuple[float, float, float] = colour((0.03, 0.026, 0.02), help="Colour of the tracks.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(Slope(), 20, 10)

    def draw(self, sheet: Sheet) -> Ink:
        sway = (sheet.noise(3.0, 2, 91, up=2.5) - 0.5) * 0.12
        x = sheet.x + sway
        beside = np.abs(np.abs(x) - self.apart / 2)
        sign = np.sign(np.abs(x) - self.apart / 2)
        pressed = ramp(-(beside - self.tyre / 2 + (sheet.noise(0.06, 3, 92) - 0.5) * 0.03), -0.012, 0.012)
        # Lugs lean towards the middle of each tyre, and meet there half a step apart.
        phase = (sheet.y + 0.8 * beside + (sign > 0) * self.lugs / 2) / self.lugs
        groove = ramp(np.abs(np.mod(phase, 1) - 0.5), 0.16, 0.3)
        faint = ramp(sheet.noise(0.7, 4, 93), 0.25, 0.6)
        ends = ramp(sheet.height / 2 - np.abs(sheet.y), 0, 0.08 * sheet.height)
        amount = pressed * ends * (0.4 + 0.6 * faint)
        squeezed = ramp(-np.abs(beside - self.tyre / 2 - 0.02), -0.03, 0.0) * (1 - pressed) * ends
        opacity = amount * (0.45 + 0.55 * (1 - groove)) * self.stain / 100
        relief = -self.depth * amount * (0.55 + 0.45 * (1 - groove)) + 0.35 * self.depth * squeezed
        return Ink(np.array(self.colour, np.float32), opacity.astype(np.float32), 0.85, 0.0, relief, 0.5 * amount)
