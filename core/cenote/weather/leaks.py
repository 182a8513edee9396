"""Leak streaks as a cover."""

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
class Leaks(Cover):
    """Dark streaks where water runs down, again and again."""

    kind: Literal["leaks"] = "leaks"
    name: ClassVar[str] = "Leak streaks"
    sits_on = natures(rest=1, earth=0.15, growth=0.4, glass=0.4, ice=0)
    opacity: float = quantity(0.62, low=0, high=1, unit="", step=0.02, help="How much a streak hides where it is full.")

    def weathered(self, climate: Climate) -> CoverLook:
        return CoverLook(
            Film((0.05, 0.045, 0.036), 0.75),
            1.1 * grown(climate.years, 9) * (0.4 + 0.9 * climate.damp),
            joints=0.25,
            softness=0.8,
            opacity=self.opacity,
            soak=0.55,
            gloss=0.15,
        )

    @classmethod
    def usual_where(cls) -> Where:
        """Narrow streaks on all that is steep."""
        return where(
            ("runoff", Runoff(), 0.25, 2.2),
            ("slope", Slope(), 35, 70),
            ("streaks", Noise(size=0.22, octaves=4, upright=9, seed=37), 0.36, 0.62),
            reached(),
        )
