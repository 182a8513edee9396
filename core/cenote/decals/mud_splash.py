"""Mud that was thrown up."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, count, quantity
from ..signals.splash import Splash
from .base import DECALS, Decal, Hangs, Ink, Sheet, found, mixed
from .outlines import to_discs


@DECALS.register
class MudSplash(Decal):
    """Splashes of mud, denser and larger towards the lower edge."""

    kind: Literal["mud_splash"] = "mud_splash"
    title: ClassVar[str] = "Mud splash"
    help: ClassVar[str] = "Splashes of mud, denser and larger towards the lower edge."
    size: ClassVar[tuple[float, float]] = (1.2, 0.6)
    hangs: ClassVar[Hangs] = "by its foot"
    over: ClassVar[bool] = True
    drops: int = count(260, low=1, high=2000, help="How many splashes there are.")
    largest: float = quantity(0.035, low=0.002, high=0.5, unit="m", step=0.005, help="Radius of the largest one.")
    thick: float = quantity(0.002, low=0, high=0.03, unit="m", step=0.0005, help="How thick it lies.")
    colour: tuple[float, float, float] = colour((0.11, 0.075, 0.045), help="Colour of the mud.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(Splash(), 0.25, 0.7)

    def draw(self, sheet: Sheet) -> Ink:
        dice = sheet.dice(3)
        low = dice.beta(1.0, 3.2, self.drops)
        radius = self.largest * (1 - 0.75 * low) * dice.random(self.drops) ** 3.0 + 0.0015
        x = dice.uniform(-0.48, 0.48, self.drops) * sheet.width
        y = (low - 0.5) * sheet.height * 0.94 + radius
        gap = to_discs(sheet, np.column_stack([x, y, radius]), 0.012) + (sheet.noise(0.02, 4, 61) - 0.5) * 0.008
        there = sheet.inside(gap, 0.001)
        dry = sheet.noise(0.03, 3, 62)
        body = np.clip(-gap / 0.008, 0, 1)
        return Ink(mixed(self.colour, tuple(1.9 * one for one in self.colour), dry), there * (0.75 + 0.25 * body), 0.9, 0.0,  # type: ignore[arg-type]
                   self.thick * there * (0.4 + 0.6 * body) * (0.7 + 0.6 * dry))  # fmt: skip
