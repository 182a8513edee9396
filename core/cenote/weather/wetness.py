"""Wetness as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import SignalCard, Where
from ..parameters import quantity
from ..signals.above_ground import AboveGround
from ..signals.noise import Noise
from ..signals.rain import RainExposure
from ..signals.splash import Splash
from .base import COVERS, Cover, CoverLook, Film, natures, where
from .climate import Conditions

# How wet the least rain makes, and how much more makes all as wet as it gets, mm/h.
_DRIZZLE, _SOAKS = 0.4, 12.0


@COVERS.register
class Wetness(Cover):
    """Rain on surfaces: what is porous darkens, and all of it shines."""

    kind: Literal["wetness"] = "wetness"
    title: ClassVar[str] = "Wetness"
    coats: ClassVar[bool] = True
    coats_above: ClassVar[float] = 0.0
    of_rain: ClassVar[bool] = True
    sits_on = natures(rest=1, ice=0.4)
    darkening: float = quantity(
        0.75, low=0, high=1, unit="", step=0.05, help="How far porous surfaces darken; 1 for soaked through."
    )
    shine: float = quantity(0.7, low=0, high=1, unit="", step=0.05, help="How near roughness comes to that of water.")

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            Film((0, 0, 0), 0.1),
            1.1 * max(min(max((now.damp - 0.65) / 0.3, 0), 1), min(_DRIZZLE + now.rain / _SOAKS, 1) if now.rain else 0),
            joints=0.35,
            softness=1.2,
            opacity=0.0,
            soak=self.darkening,
            gloss=self.shine,
        )

    @classmethod
    def usual_where(cls) -> Where:
        """All that rain reaches; what is high above the ground dries first as the dial of damp goes down."""
        rain = SignalCard(id="rain", signal=RainExposure(), starts_at=0.0, full_at=0.3)
        splash = SignalCard(id="splash", signal=Splash(height=0.4), starts_at=0.0, full_at=0.5, combine="max")
        return where(
            rain, splash, ("dries", AboveGround(), 14, 0), ("noise", Noise(size=2, octaves=4, seed=53), 0.02, 0.4)
        )
