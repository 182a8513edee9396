"""Moss as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import SignalCard, Where
from ..parameters import quantity
from ..signals.crevice import Crevice
from ..signals.facing import Facing
from ..signals.noise import Noise
from ..signals.sky import SkyExposure
from .base import COVERS, Cover, CoverLook
from .climate import Climate


@COVERS.register
class Moss(Cover):
    """Cushions of moss. They need damp and years, and begin in the joints."""

    kind: Literal["moss"] = "moss"
    name: ClassVar[str] = "Moss"
    amount: float = quantity(1, low=0, high=2, unit="×", step=0.05, help="How strongly it grows where it grows at all.")
    thickness: float = quantity(
        0.012, low=0, high=0.1, unit="m", step=0.002, help="How thick its cushions are when full."
    )
    joints: float = quantity(
        0.65, low=0, high=1, unit="", step=0.05, help="How much it fills joints and pits before it climbs on to faces."
    )
    brightness: float = quantity(1, low=0.2, high=2, unit="×", step=0.05, help="Darker or lighter than it usually is.")

    def look(self, climate: Climate) -> CoverLook:
        grown = 1 - np.exp(-climate.years / 10)
        damp = np.clip((climate.damp - 0.1) / 0.5, 0, 1.25)
        return CoverLook("moss", float(self.amount * grown * damp), self.joints, 0.28, self.thickness, self.brightness)

    @classmethod
    def usual_where(cls) -> Where:
        return Where(
            cards=(
                SignalCard(id="facing", signal=Facing(), starts_at=-0.5, full_at=0.35),
                SignalCard(id="crevice", signal=Crevice(radius=1.0), starts_at=0.0, full_at=0.16),
                SignalCard(id="sky", signal=SkyExposure(), starts_at=0.0, full_at=0.14),
                SignalCard(id="noise", signal=Noise(size=1.2, octaves=5), starts_at=0.34, full_at=0.62),
            )
        )
