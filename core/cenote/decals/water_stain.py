"""Rings that water left."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, count, quantity
from ..signals.ledge import BelowLedge
from .base import DECALS, Decal, Ink, Sheet, found


@DECALS.register
class WaterStain(Decal):
    """Ragged rings, one within another, that water left as it dried."""

    kind: Literal["water_stain"] = "water_stain"
    title: ClassVar[str] = "Water stain"
    help: ClassVar[str] = "Ragged rings that water left as it dried."
    size: ClassVar[tuple[float, float]] = (0.9, 0.9)
    over: ClassVar[bool] = True
    rings: int = count(4, low=1, high=12, help="How often it has dried.")
    strength: float = quantity(55, low=0, high=100, unit="%", step=5, help="How dark the rings are.")
    colour: tuple[float, float, float] = colour((0.1, 0.065, 0.03), help="Colour of the rings.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(BelowLedge(depth=1), 0.2, 0.7)

    def draw(self, sheet: Sheet) -> Ink:
        dice = sheet.dice(4)
        away = np.hypot(sheet.x / sheet.width, sheet.y / sheet.height) * 2
        total = np.zeros(len(sheet.x), np.float32)
        for ring in range(self.rings):
            size = 0.9 * (1 - 0.72 * ring / max(self.rings, 1)) * (0.9 + 0.1 * dice.random())
            ragged = away + (sheet.noise(0.35 * sheet.width, 5, 71 + ring // 2) - 0.5) * 0.5
            gap = ragged - size
            rim = np.exp(-np.maximum(gap, 0) / 0.006) * np.exp(-np.maximum(-gap, 0) / 0.05)
            total = np.maximum(total, rim * dice.uniform(0.5, 1) + 0.16 * (gap < 0))
        grain = 0.65 + 0.7 * sheet.noise(0.006, 3, 79)
        return Ink(
            np.array(self.colour, np.float32),
            np.clip(total * grain * self.strength / 100, 0, 1).astype(np.float32),
            0.8,
        )
