"""Moss that creeps out of a joint."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, quantity
from ..signals.crevice import Crevice
from .base import DECALS, Decal, Ink, Sheet, found, mixed, ramp


@DECALS.register
class MossCreep(Decal):
    """Cushions of moss along the middle of the box, thinning out to both sides."""

    kind: Literal["moss_creep"] = "moss_creep"
    title: ClassVar[str] = "Moss from a joint"
    help: ClassVar[str] = "Cushions of moss along the middle of the box."
    size: ClassVar[tuple[float, float]] = (1.2, 0.3)
    over: ClassVar[bool] = True
    thick: float = quantity(0.014, low=0.001, high=0.1, unit="m", step=0.002, help="How high the cushions are.")
    dense: float = quantity(60, low=0, high=100, unit="%", step=5, help="How much of it there is.")
    young: tuple[float, float, float] = colour((0.075, 0.098, 0.02), help="Colour of its tips.")
    old: tuple[float, float, float] = colour((0.018, 0.026, 0.008), help="Colour of its heart.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(Crevice(radius=0.3), 0.25, 0.55)

    def draw(self, sheet: Sheet) -> Ink:
        beside = np.abs(sheet.y) / (sheet.height / 2)
        ends = ramp(sheet.width / 2 - np.abs(sheet.x), 0, 0.15 * sheet.width)
        clumps, patches = sheet.noise(0.05, 5, 101), sheet.noise(0.4, 3, 104)
        grown = ends * (1.1 - beside) * 0.9 + (clumps - 0.5) * 1.6 + (patches - 0.5) * 1.4 + (self.dense / 100 - 0.85)
        there = ramp(grown, 0.0, 0.12)
        tips, fine = sheet.noise(0.004, 3, 102), sheet.noise(0.0015, 2, 103)
        body = np.clip(grown * 2.2, 0, 1)
        colours = mixed(self.old, self.young, np.clip(0.25 + 0.6 * (tips - 0.3) + 0.4 * body * fine, 0, 1))
        return Ink(
            colours,
            there,
            0.97,
            0.0,
            self.thick * there * (0.25 + 0.75 * np.sqrt(body)) * (0.75 + 0.5 * tips),
            0.3 * there,
        )
