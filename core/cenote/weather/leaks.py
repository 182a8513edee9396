"""Leak streaks as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..parameters import quantity
from .base import COVERS, Colour
from .streaks import Streaks, on_most


@COVERS.register
class Leaks(Streaks):
    """Dark streaks where water runs down, again and again."""

    kind: Literal["leaks"] = "leaks"
    title: ClassVar[str] = "Leak streaks"
    sits_on = on_most(earth=0.15)
    colour: ClassVar[Colour] = (0.05, 0.045, 0.036)
    rough: ClassVar[float] = 0.75
    pace: ClassVar[float] = 9
    soaks: ClassVar[float] = 0.55
    shines: ClassVar[float] = 0.15
    flows: ClassVar[tuple[float, float]] = (0.25, 2.2)
    steep: ClassVar[tuple[float, float]] = (35, 70)
    seed: ClassVar[int] = 37
    opacity: float = quantity(0.62, low=0, high=1, unit="", step=0.02, help="How much a streak hides where it is full.")
