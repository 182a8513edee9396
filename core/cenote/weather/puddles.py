"""Puddles as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.standing import StandingWater
from .base import COVERS, Cover, CoverLook, Film, natures, where
from .climate import Conditions

# The rain that fills hollows to the brim, mm/h.
_FILLS = 15.0


@COVERS.register
class Puddles(Cover):
    """Standing water: level, dark and bright as a mirror, only where water would stand; mud shows at its rim."""

    kind: Literal["puddles"] = "puddles"
    title: ClassVar[str] = "Puddles"
    sits_on = natures(rest=1, glass=0.5)
    murk: float = quantity(0.35, low=0, high=1, unit="", step=0.05, help="How much of the ground the water hides.")

    rim: float = quantity(
        0.5, low=0, high=2, unit="×", step=0.05, help="How wide the wet and silty margin round a puddle is."
    )

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            Film((0.045, 0.04, 0.028), 0.04),
            1.2 * max(min(max((now.damp - 0.6) / 0.3, 0), 1), min(now.rain / _FILLS, 1)),
            joints=1.0,
            softness=0.08,
            opacity=self.murk,
            soak=1.0,
            gloss=1.0,
            flattens=1.0,
            stands=True,
            rim=0.4 * self.rim,
            silt=(0.16, 0.125, 0.085),
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(("standing", StandingWater(), 0.0, 0.8))
