"""Frost as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.noise import Noise
from ..signals.sky import SkyExposure
from .base import COVERS, Cover, CoverLook, Film, natures, where
from .climate import Conditions


@COVERS.register
class Frost(Cover):
    """Hoar frost: a white bloom on edges and high places under open sky, in winter."""

    kind: Literal["frost"] = "frost"
    title: ClassVar[str] = "Frost"
    coats: ClassVar[bool] = True
    coats_above: ClassVar[float] = 0.5
    sits_on = natures(rest=1, glass=0.8)
    opacity: float = quantity(0.6, low=0, high=1, unit="", step=0.05, help="How white it makes what it covers.")

    def weathered(self, now: Conditions) -> CoverLook:
        cold = min(max((now.season - 0.8) / 0.15, 0), 1)
        return CoverLook(
            Film((0.72, 0.76, 0.8), 0.7),
            0.9 * max(cold, min(now.snow / 0.02, 1.0)),
            joints=-0.6,
            softness=0.5,
            thickness=0.0006,
            opacity=self.opacity,
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(("sky", SkyExposure(), 0.3, 0.8), ("noise", Noise(size=0.9, octaves=5, seed=47), 0.1, 0.55))
