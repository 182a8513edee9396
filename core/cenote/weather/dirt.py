"""Dirt as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..masks.where import SignalCard, Where
from ..parameters import quantity
from ..signals.crevice import Crevice
from ..signals.noise import Noise
from .base import COVERS, Cover, CoverLook
from .climate import Climate


@COVERS.register
class Dirt(Cover):
    """Earth splashed, blown and washed into corners."""

    kind: Literal["dirt"] = "dirt"
    name: ClassVar[str] = "Dirt"
    amount: float = quantity(
        1, low=0, high=2, unit="×", step=0.05, help="How strongly it gathers where it gathers at all."
    )
    thickness: float = quantity(
        0.003, low=0, high=0.05, unit="m", step=0.001, help="How thick it lies where it is full."
    )
    joints: float = quantity(
        0.4, low=0, high=1, unit="", step=0.05, help="How much it fills joints and pits before it covers faces."
    )
    brightness: float = quantity(
        0.85, low=0.2, high=2, unit="×", step=0.05, help="Darker or lighter than it usually is."
    )

    def look(self, climate: Climate) -> CoverLook:
        gathered = 1 - np.exp(-climate.years / 6)
        wet = 1 - 0.25 * climate.damp
        return CoverLook("mud", float(self.amount * gathered), self.joints, 0.6, self.thickness, self.brightness * wet)

    @classmethod
    def usual_where(cls) -> Where:
        return Where(
            cards=(
                SignalCard(id="crevice", signal=Crevice(radius=1.0), starts_at=0.1, full_at=0.6),
                SignalCard(id="noise", signal=Noise(size=2.5, octaves=5, seed=4), starts_at=0.3, full_at=0.7),
            )
        )
