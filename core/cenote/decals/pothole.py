"""Holes in a paving."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, quantity
from ..signals.slope import Slope
from .base import DECALS, Decal, Ink, Sheet, found, mixed, ramp


@DECALS.register
class Pothole(Decal):
    """A hole that traffic has broken into a paving, down to its rubble."""

    kind: Literal["pothole"] = "pothole"
    title: ClassVar[str] = "Pothole"
    help: ClassVar[str] = "A hole broken into a paving, down to its rubble."
    size: ClassVar[tuple[float, float]] = (1.1, 0.9)
    depth: float = quantity(0.05, low=0.002, high=0.5, unit="m", step=0.005, help="How deep it is.")
    broken: float = quantity(60, low=0, high=100, unit="%", step=5, help="How ragged its edge is.")
    earth: tuple[float, float, float] = colour((0.07, 0.055, 0.04), help="Colour of what lies in it.")
    stones: tuple[float, float, float] = colour((0.22, 0.2, 0.17), help="Colour of the rubble in it.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(Slope(), 12, 6)

    def draw(self, sheet: Sheet) -> Ink:
        away = np.hypot(sheet.x / (0.42 * sheet.width), sheet.y / (0.42 * sheet.height))
        size = min(sheet.width, sheet.height)
        ragged = (
            self.broken / 100 * ((sheet.noise(0.3 * size, 5, 21) - 0.5) * 0.9 + (sheet.noise(0.04, 4, 22) - 0.5) * 0.18)
        )
        within = 1 - away + ragged
        rubble = ramp(sheet.noise(0.035, 4, 23), 0.52, 0.66)
        deep = ramp(within, 0.0, 0.3) * 0.75 + 0.25 * ramp(within, 0.3, 0.8)
        opacity = np.clip(within * size / (2 * max(sheet.texel, 0.004)) + 0.5, 0, 1)
        relief = -self.depth * deep * opacity + 0.25 * self.depth * rubble * opacity * ramp(within, 0.05, 0.3)
        colours = mixed(self.earth, self.stones, rubble * (0.5 + 0.5 * sheet.noise(0.02, 3, 24)))
        return Ink(colours, opacity.astype(np.float32), 0.93, 0.0, relief, 0.8 * opacity)
