"""Where somebody has walked."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, quantity
from ..signals.slope import Slope
from .base import DECALS, Decal, Ink, Sheet, found, ramp


@DECALS.register
class Footprints(Decal):
    """A row of prints of boots, left and right, up the height of the box."""

    kind: Literal["footprints"] = "footprints"
    title: ClassVar[str] = "Footprints"
    help: ClassVar[str] = "A row of prints of boots, left and right."
    size: ClassVar[tuple[float, float]] = (0.5, 3.0)
    over: ClassVar[bool] = True
    boot: float = quantity(0.29, low=0.05, high=0.6, unit="m", step=0.01, help="Length of a boot.")
    stride: float = quantity(0.7, low=0.1, high=3, unit="m", step=0.05, help="From one print to the next.")
    depth: float = quantity(0.012, low=0, high=0.2, unit="m", step=0.002, help="How deep they are pressed in.")
    stain: float = quantity(50, low=0, high=100, unit="%", step=5, help="How dark they are.")
    colour: tuple[float, float, float] = colour((0.045, 0.034, 0.024), help="What they leave.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(Slope(), 20, 10)

    def draw(self, sheet: Sheet) -> Ink:
        many = max(1, int(sheet.height / self.stride))
        step = np.clip(np.floor((sheet.y + sheet.height / 2) / self.stride), 0, many - 1).astype(int)
        dice = sheet.dice(6)
        turn, aside, share = dice.normal(0, 0.09, many), dice.normal(0, 0.015, many), dice.uniform(0.35, 1, many)
        side = np.where(step % 2 == 0, -1.0, 1.0)
        cos, sin = np.cos(turn[step] - 0.1 * side), np.sin(turn[step] - 0.1 * side)
        x = sheet.x - side * 0.1 * (self.boot / 0.29) - aside[step]
        y = sheet.y + sheet.height / 2 - (step + 0.5) * self.stride
        # In lengths of a boot, heel below, its inner side to the left.
        across, up = (x * cos + y * sin) / self.boot * side, (y * cos - x * sin) / self.boot
        sole = np.hypot((across - 0.015) / 0.175, (up - 0.19) / 0.29) - 1
        heel = np.hypot(across / 0.13, (up + 0.34) / 0.15) - 1
        waist = np.maximum(np.abs(across + 0.01) - 0.085, np.abs(up + 0.12) - 0.2) * 6
        gap = np.minimum(np.minimum(sole, heel), waist) * 0.15 * self.boot + (sheet.noise(0.02, 3, 95) - 0.5) * 0.008
        pressed = ramp(-gap, -0.002, 0.003) * share[step]
        bars = ramp(np.abs(np.mod(up / 0.075 + 0.4 * across, 1) - 0.5), 0.14, 0.26)
        waisted = ramp(np.minimum(sole, heel), -0.05, 0.1)
        tread = pressed * (1 - 0.5 * waisted)
        opacity = tread * (0.4 + 0.6 * (1 - bars)) * self.stain / 100 * (0.6 + 0.6 * sheet.noise(0.03, 3, 96))
        return Ink(
            np.array(self.colour, np.float32),
            np.clip(opacity, 0, 1).astype(np.float32),
            0.88,
            0.0,
            -self.depth * tread * (0.6 + 0.4 * (1 - bars)),
        )
