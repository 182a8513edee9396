"""Soot as a cover."""

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
class Soot(Cover):
    """Black crusts of smoke, where rain never washes."""

    kind: Literal["soot"] = "soot"
    title: ClassVar[str] = "Soot"
    sits_on = natures(rest=0.9, stone=1, masonry=1, plaster=1, growth=0.2, earth=0, ice=0.2)
    opacity: float = quantity(0.85, low=0, high=1, unit="", step=0.05, help="How much it hides where it is thick.")

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            Film((0.018, 0.017, 0.016), 0.97),
            grown(now.years, 20),
            joints=0.3,
            softness=0.9,
            thickness=0.0003,
            opacity=self.opacity,
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(
            ("rain", RainExposure(), 0.25, 0.02),
            ("facing", Facing(), 0.5, -0.1),
            ("noise", Noise(size=1.8, octaves=5, seed=31, upright=1.6), 0.38, 0.7),
            reached(),
        )
