"""Rust that has run down from iron."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import Where
from ..parameters import colour, count, quantity
from ..signals.ledge import BelowLedge
from .base import DECALS, Decal, Hangs, Ink, Sheet, found, mixed
from .runs import runs_down


@DECALS.register
class RustRun(Decal):
    """Rust that rain has carried down from a bolt, a bracket or a bar."""

    kind: Literal["rust_run"] = "rust_run"
    title: ClassVar[str] = "Rust run"
    help: ClassVar[str] = "Rust that rain has carried down from iron."
    size: ClassVar[tuple[float, float]] = (0.25, 0.9)
    hangs: ClassVar[Hangs] = "by its upper side"
    over: ClassVar[bool] = True
    dark: tuple[float, float, float] = colour((0.09, 0.022, 0.006), help="Colour where it is thick.")
    light: tuple[float, float, float] = colour((0.42, 0.15, 0.035), help="Colour where it is thin.")
    streaks: int = count(9, low=1, high=120, help="How many streaks there are.")
    width: float = quantity(0.014, low=0.001, high=0.5, unit="m", step=0.002, help="Width of a streak.")
    strength: float = quantity(80, low=0, high=100, unit="%", step=5, help="How much of it there is.")

    @classmethod
    def usual_where(cls) -> Where:
        return found(BelowLedge(depth=0.3), 0.4, 0.8)

    def draw(self, sheet: Sheet) -> Ink:
        ran = runs_down(sheet, self.streaks, self.width, 0.15)
        grain, cloud = sheet.noise(0.008, 4, 3), sheet.noise(0.05, 3, 5, up=0.2)
        amount = np.clip(ran * (0.5 + cloud) * (0.6 + 0.8 * grain), 0, 1)
        colours = mixed(self.light, self.dark, np.clip(amount * 1.4 - 0.15, 0, 1))
        return Ink(colours, amount * np.float32(self.strength / 100), 0.92, 0.0, 0.0002 * amount)
