"""Peeling paint as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import SignalCard, Where
from ..parameters import quantity
from ..signals.edge import Edge
from ..signals.noise import Noise
from ..signals.rain import RainExposure
from ..signals.splash import Splash
from .base import COVERS, Cover, CoverLook, grown, natures, reached, where
from .climate import Conditions


@COVERS.register
class Peeling(Cover):
    """Paint, limewash and plaster that come away, at high places and edges first, and bare what they were put on."""

    kind: Literal["peeling"] = "peeling"
    title: ClassVar[str] = "Peeling paint"
    sits_on = natures(painted_timber=1, painted_metal=0.9, plaster=0.8)
    depth: float = quantity(0.0012, low=0, high=0.03, unit="m", step=0.0002, help="How thick the coat was.")

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            "planed_timber",
            1.05 * grown(now.years, 18) * (0.6 + 0.6 * now.damp),
            joints=-0.8,
            softness=0.05,
            thickness=-self.depth,
            instead={"painted metal": "rust", "plaster": "brick"},
        )

    @classmethod
    def usual_where(cls) -> Where:
        rain = SignalCard(id="rain", signal=RainExposure(), starts_at=0.0, full_at=0.35)
        splash = SignalCard(id="splash", signal=Splash(height=0.7), starts_at=0.0, full_at=0.6, combine="max")
        edge = SignalCard(id="edge", signal=Edge(radius=0.04), starts_at=0.05, full_at=0.35, combine="max")
        return where(rain, splash, edge, ("noise", Noise(size=0.8, octaves=6, seed=23), 0.36, 0.66), reached())
