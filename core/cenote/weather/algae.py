"""Algae as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.height import Height
from ..signals.noise import Noise
from .base import COVERS, Cover, CoverLook, grown, natures, reached, where
from .climate import Conditions


@COVERS.register
class Algae(Cover):
    """Green slime at the water line, wet and smooth."""

    kind: Literal["algae"] = "algae"
    title: ClassVar[str] = "Algae"
    sits_on = natures(stone=1, masonry=1, plaster=1, timber=1, painted_timber=0.7, metal=0.4, painted_metal=0.45, earth=0.5,
                      cloth=0.8, glass=0.3)  # fmt: skip
    thickness: float = quantity(0.002, low=0, high=0.03, unit="m", step=0.001, help="How thick its film is.")

    def weathered(self, now: Conditions) -> CoverLook:
        damp = min(max(now.damp / 0.5, 0.2), 1.3)
        return CoverLook(
            "algae",
            grown(now.years, 4) * damp,
            joints=0.5,
            softness=0.6,
            thickness=self.thickness,
            opacity=0.9,
            soak=0.5,
            gloss=0.55,
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(
            ("height", Height(above_water=True), 0.34, 0.08),
            ("noise", Noise(size=1.6, octaves=5, seed=6), 0.2, 0.5),
            reached(),
        )
