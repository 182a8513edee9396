"""Dirt as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import SignalCard, Where
from ..parameters import quantity
from ..signals.crevice import Crevice
from ..signals.noise import Noise
from ..signals.slope import Slope
from ..signals.splash import Splash
from .base import COVERS, Cover, CoverLook, grown, natures, reached, where
from .climate import Conditions


@COVERS.register
class Dirt(Cover):
    """Earth splashed up from the ground, blown and washed into corners and on to ledges."""

    kind: Literal["dirt"] = "dirt"
    title: ClassVar[str] = "Dirt"
    sits_on = natures(rest=1, metal=0.6, painted_metal=0.6, glass=0.55, growth=0.7, ice=0.3)
    brightness: float = quantity(
        0.85, low=0.2, high=2, unit="×", step=0.05, help="Darker or lighter than it usually is."
    )
    thickness: float = quantity(
        0.003, low=0, high=0.05, unit="m", step=0.001, help="How thick it lies where it is full."
    )
    joints: float = quantity(
        0.4, low=0, high=1, unit="", step=0.05, help="How much it fills joints and pits before it covers faces."
    )

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            "silt",
            grown(now.years, 6),
            joints=self.joints,
            softness=0.6,
            thickness=self.thickness,
            brightness=1 - 0.25 * now.damp,
        )

    @classmethod
    def usual_where(cls) -> Where:
        # Splashed up on to what is steep; what is level has it in its corners alone.
        splash = SignalCard(id="splash", signal=Splash(height=0.45), starts_at=0.05, full_at=0.75)
        steep = SignalCard(id="steep", signal=Slope(), starts_at=25, full_at=60)
        corners = SignalCard(id="crevice", signal=Crevice(radius=1.0), starts_at=0.12, full_at=0.62, combine="max")
        return where(splash, steep, corners, ("noise", Noise(size=2.5, octaves=5, seed=4), 0.28, 0.65), reached())
