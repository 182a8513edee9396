"""Water that has run down a wall again and again."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, count, quantity
from ..signals.ledge import BelowLedge
from .base import DECALS, Decal, Hangs, Ink, Sheet, found, mixed, ramp
from .runs import runs_down


@DECALS.register
class Leak(Decal):
    """A dark stain below where water comes out, with the lime or dirt that it has left at its margins."""

    kind: Literal["leak"] = "leak"
    title: ClassVar[str] = "Leak"
    help: ClassVar[str] = "Stain of water that has run down again and again."
    size: ClassVar[tuple[float, float]] = (0.7, 1.6)
    hangs: ClassVar[Hangs] = "by its upper side"
    over: ClassVar[bool] = True
    stain: tuple[float, float, float] = colour((0.035, 0.03, 0.022), help="Colour of the stain.")
    margin: tuple[float, float, float] = colour((0.34, 0.32, 0.27), help="Colour of what is left at its margins.")
    streaks: int = count(26, low=1, high=120, help="How many streaks there are.")
    width: float = quantity(0.03, low=0.002, high=1, unit="m", step=0.005, help="Width of a streak.")
    strength: float = quantity(75, low=0, high=100, unit="%", step=5, help="How dark the stain is.")
    lime: float = quantity(20, low=0, high=100, unit="%", step=5, help="How much is left at its margins.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(BelowLedge(depth=0.3), 0.4, 0.8)

    def draw(self, sheet: Sheet) -> Ink:
        ran = runs_down(sheet, self.streaks, self.width, 0.25)
        grain = sheet.noise(0.012, 4, 3)
        fine = sheet.noise(0.08, 4, 4, up=0.4)
        dark = np.clip(ran * (0.55 + 0.9 * fine) * (0.7 + 0.6 * grain), 0, 1) * (self.strength / 100)
        edge = ramp(ran, 0.04, 0.2) * (1 - ramp(ran, 0.25, 0.5)) * ramp(grain + 0.35 * fine, 0.5, 0.85)
        left = edge * (self.lime / 100)
        opacity = 1 - (1 - dark) * (1 - left)
        share = left / np.maximum(opacity, 1e-6)
        return Ink(
            mixed(self.stain, self.margin, np.clip(share, 0, 1)), opacity, 0.75 + 0.2 * share, 0.0, 0.0004 * left
        )
