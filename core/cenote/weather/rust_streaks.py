"""Rust streaks as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.noise import Noise
from ..signals.runoff import Runoff
from ..signals.slope import Slope
from .base import COVERS, Cover, CoverLook, Film, grown, natures, reached, where
from .climate import Climate


@COVERS.register
class RustStreaks(Cover):
    """Rust that water carries down from metal on to what is below."""

    kind: Literal["rust_streaks"] = "rust_streaks"
    name: ClassVar[str] = "Rust streaks"
    sits_on = natures(rest=1, earth=0.3, growth=0.4, glass=0.4, ice=0)
    opacity: float = quantity(0.78, low=0, high=1, unit="", step=0.02, help="How much a streak hides where it is full.")

    def weathered(self, climate: Climate) -> CoverLook:
        return CoverLook(
            Film((0.21, 0.075, 0.024), 0.85),
            1.1 * grown(climate.years, 12) * (0.4 + 0.9 * climate.damp),
            joints=0.25,
            softness=0.8,
            opacity=self.opacity,
            soak=0.15,
            gloss=0.0,
        )

    @classmethod
    def usual_where(cls) -> Where:
        """Streaks below metal: choose which objects in the card of runoff."""
        return where(
            ("runoff", Runoff(), 0.02, 0.6),
            ("slope", Slope(), 10, 35),
            ("streaks", Noise(size=0.22, octaves=4, upright=9, seed=41), 0.36, 0.62),
            reached(),
        )
