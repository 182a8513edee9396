"""Lichen as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.noise import Noise
from ..signals.sky import SkyExposure
from .base import COVERS, Cover, CoverLook, grown, natures, where
from .climate import Conditions


@COVERS.register
class Lichen(Cover):
    """Crusts of lichen, slow and flat: they want open sky and stone that nobody touches."""

    kind: Literal["lichen"] = "lichen"
    title: ClassVar[str] = "Lichen"
    sits_on = natures(stone=1, masonry=0.9, plaster=0.4, timber=0.6, painted_timber=0.15, metal=0.05, growth=0.6)
    spread: float = quantity(
        0.5, low=0, high=1, unit="", step=0.05, help="How much it takes high places before joints and pits."
    )

    def weathered(self, now: Conditions) -> CoverLook:
        dry = 1.15 - 0.4 * now.damp
        return CoverLook(
            "lichen",
            0.8 * grown(now.years, 28) * dry,
            joints=-self.spread,
            softness=0.2,
            thickness=0.0012,
            opacity=0.85,
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(
            ("sky", SkyExposure(), 0.25, 0.75),
            ("patches", Noise(look="patches", size=0.5, seed=11), 0.45, 0.6),
            ("noise", Noise(size=3, octaves=4, seed=12), 0.4, 0.62),
        )
