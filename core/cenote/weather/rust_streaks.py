"""Rust streaks as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..parameters import quantity
from .base import COVERS, Colour
from .streaks import Streaks, on_most


@COVERS.register
class RustStreaks(Streaks):
    """Rust that water carries down from metal on to what is below: choose which objects in the card of runoff."""

    kind: Literal["rust_streaks"] = "rust_streaks"
    title: ClassVar[str] = "Rust streaks"
    sits_on = on_most(earth=0.3)
    colour: ClassVar[Colour] = (0.21, 0.075, 0.024)
    rough: ClassVar[float] = 0.85
    pace: ClassVar[float] = 12
    soaks: ClassVar[float] = 0.15
    flows: ClassVar[tuple[float, float]] = (0.001, 0.03)
    steep: ClassVar[tuple[float, float]] = (-4, 5)
    seed: ClassVar[int] = 41
    opacity: float = quantity(0.78, low=0, high=1, unit="", step=0.02, help="How much a streak hides where it is full.")
