"""Dust as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.facing import Facing
from ..signals.noise import Noise
from ..signals.rain import RainExposure
from .base import COVERS, Cover, CoverLook, Film, grown, natures, reached, where
from .climate import Conditions


@COVERS.register
class Dust(Cover):
    """Pale dust that settles on ledges, and stays where no rain comes."""

    kind: Literal["dust"] = "dust"
    title: ClassVar[str] = "Dust"
    sits_on = natures(rest=1, growth=0.6, ice=0.1, earth=0.4)
    opacity: float = quantity(0.7, low=0, high=1, unit="", step=0.05, help="How much it hides where it lies thick.")

    def weathered(self, now: Conditions) -> CoverLook:
        dry = min(max(1.25 - now.damp, 0), 1)
        return CoverLook(
            Film((0.33, 0.285, 0.22), 0.95),
            1.2 * grown(now.years, 2.5) * dry,
            joints=0.25,
            softness=0.9,
            thickness=0.0004,
            opacity=self.opacity,
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(
            ("facing", Facing(), 0.05, 0.8),
            ("rain", RainExposure(), 0.45, 0.1),
            ("noise", Noise(size=1.1, octaves=5, seed=27), 0.15, 0.6),
            reached(),
        )
