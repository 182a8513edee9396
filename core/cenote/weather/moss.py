"""Moss as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.crevice import Crevice
from ..signals.facing import Facing
from ..signals.noise import Noise
from ..signals.sky import SkyExposure
from .base import COVERS, Cover, CoverLook, grown, natures, where
from .climate import Conditions


@COVERS.register
class Moss(Cover):
    """Cushions of moss. They need damp and years, and begin in the joints."""

    kind: Literal["moss"] = "moss"
    title: ClassVar[str] = "Moss"
    coats: ClassVar[bool] = True
    coats_above: ClassVar[float] = 0.8
    sits_on = natures(stone=1, masonry=1, plaster=0.85, timber=0.9, painted_timber=0.4, metal=0.05, painted_metal=0.12,
                      earth=0.6, growth=0.8, cloth=0.5)  # fmt: skip
    thickness: float = quantity(
        0.012, low=0, high=0.1, unit="m", step=0.002, help="How thick its cushions are when full."
    )
    joints: float = quantity(
        0.65, low=0, high=1, unit="", step=0.05, help="How much it fills joints and pits before it climbs on to faces."
    )

    def weathered(self, now: Conditions) -> CoverLook:
        damp = min(max((now.damp - 0.1) / 0.5, 0), 1.25)
        # Cushions hold water long after what is round them has dried: they are dark while the stone is pale.
        held = min(max((now.damp - 0.3) / 0.45, 0), 1)
        return CoverLook(
            "moss",
            grown(now.years, 10) * damp,
            joints=self.joints,
            softness=0.28,
            thickness=self.thickness,
            brightness=1.1 - 0.35 * held,
            soak=0.25 + 0.35 * held,
            gloss=0.2 * held,
        )

    @classmethod
    def usual_where(cls) -> Where:
        return where(
            ("facing", Facing(), -0.5, 0.35),
            ("crevice", Crevice(radius=1.0), 0.0, 0.16),
            ("sky", SkyExposure(), 0.0, 0.14),
            ("noise", Noise(size=1.2, octaves=5), 0.34, 0.62),
        )
