"""What birds leave below where they sit."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..parameters import colour, count, quantity
from .base import DECALS, Decal, Ink, Sheet, mixed, ramp
from .outlines import to_discs


@DECALS.register
class BirdDroppings(Decal):
    """White splashes with a darker heart, which have run down a little where it is steep."""

    kind: Literal["bird_droppings"] = "bird_droppings"
    title: ClassVar[str] = "Bird droppings"
    help: ClassVar[str] = "White splashes with a darker heart."
    size: ClassVar[tuple[float, float]] = (0.5, 0.5)
    over: ClassVar[bool] = True
    number: int = count(9, low=1, high=120, help="How many there are.")
    largest: float = quantity(0.02, low=0.004, high=0.1, unit="m", step=0.002, help="Radius of the largest one.")
    runs: float = quantity(0.06, low=0, high=0.6, unit="m", step=0.01, help="How far they have run down.")
    colour: tuple[float, float, float] = colour((0.74, 0.73, 0.68), help="Colour of the white.")

    def draw(self, sheet: Sheet) -> Ink:
        dice = sheet.dice(5)
        white, dark = [], [[0.0, 0.0, -1.0]]
        for _ in range(self.number):
            x, y = dice.uniform(-0.42, 0.42) * sheet.width, dice.uniform(-0.3, 0.44) * sheet.height
            radius = self.largest * dice.uniform(0.35, 1)
            white.append([x, y, radius])
            if dice.random() < 0.5:
                dark.append(
                    [
                        x + dice.normal(0, 0.3) * radius,
                        y + dice.normal(0, 0.3) * radius,
                        radius * dice.uniform(0.15, 0.4),
                    ]
                )
            for way in dice.uniform(0, 2 * np.pi, int(dice.integers(4, 11))):
                far = radius * dice.uniform(1.1, 3)
                white.append([x + far * np.cos(way), y + far * np.sin(way), radius * dice.uniform(0.06, 0.25)])
            if dice.random() < 0.6:
                long = self.runs * dice.random()
                white += [[x, y - long * t, radius * 0.35 * (1 - 0.6 * t)] for t in np.linspace(0, 1, 8)]
        ragged = (sheet.noise(0.012, 4, 81) - 0.5) * 0.008
        gap = to_discs(sheet, np.array(white), 0.004) + ragged
        heart = ramp(-(to_discs(sheet, np.array(dark)) + ragged), -0.002, 0.002)
        there = sheet.inside(gap, 0.001)
        return Ink(mixed(self.colour, (0.06, 0.055, 0.04), heart * 0.8), there * 0.92, 0.72, 0.0, 0.0008 * there)
