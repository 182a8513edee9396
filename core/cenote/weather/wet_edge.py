"""The wet edge above a water line, as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.height import Height
from ..signals.noise import Noise
from ..signals.shore import FromWater
from .base import COVERS, Cover, CoverLook, Film, natures, where
from .climate import Conditions

# How much of its strength a dry and a damp day leave it: what is soaked from below never dries.
_DRY, _DAMP = 0.75, 1.15


@COVERS.register
class WetEdge(Cover):
    """What stands in water is dark and shining as far up as that rises and laps."""

    kind: Literal["wet_edge"] = "wet_edge"
    title: ClassVar[str] = "Wet edge"
    coats: ClassVar[bool] = True
    coats_above: ClassVar[float] = 0.0
    sits_on = natures(rest=1, ice=0.4)
    darkening: float = quantity(
        0.85, low=0, high=1, unit="", step=0.05, help="How far porous surfaces darken; 1 for soaked through."
    )
    shine: float = quantity(0.75, low=0, high=1, unit="", step=0.05, help="How near roughness comes to that of water.")

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            Film((0, 0, 0), 0.1),
            _DRY + (_DAMP - _DRY) * now.damp,
            joints=0.25,
            softness=0.6,
            opacity=0.0,
            soak=self.darkening,
            gloss=self.shine,
        )

    @classmethod
    def usual_where(cls) -> Where:
        """A hand's breadth above the water, higher here and lower there; nowhere on a site that has none."""
        return where(
            ("height", Height(above_water=True), 0.2, 0.06),
            ("shore", FromWater(), 4, 2),
            ("noise", Noise(size=0.6, octaves=4, seed=31), 0.15, 0.5),
        )
