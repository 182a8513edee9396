"""Rust as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import SignalCard, Where
from ..parameters import quantity
from ..signals.crevice import Crevice
from ..signals.edge import Edge
from ..signals.noise import Noise
from .base import COVERS, Cover, CoverLook, grown, natures, reached, where
from .climate import Conditions


@COVERS.register
class Rust(Cover):
    """Rust. It starts where metal is bare: at edges, in joints and where water is held."""

    kind: Literal["rust"] = "rust"
    title: ClassVar[str] = "Rust"
    sits_on = natures(metal=1, painted_metal=0.75)
    thickness: float = quantity(0.0015, low=0, high=0.02, unit="m", step=0.0005, help="How thick its scale is.")

    waits: float = quantity(
        0.85, low=0, high=1, unit="", step=0.05, label="Only on bare metal",
        help="How far it keeps to bare metal: at 1 paint rusts only where a cover below, such as peeling, has bared it.",
    )  # fmt: skip

    def weathered(self, now: Conditions) -> CoverLook:
        damp = 0.35 + 0.9 * now.damp
        return CoverLook(
            "rust",
            1.1 * grown(now.years, 14) * damp,
            joints=-0.35,
            softness=0.2,
            thickness=self.thickness,
            bared={"painted metal": self.waits},
        )

    @classmethod
    def usual_where(cls) -> Where:
        edge = SignalCard(id="edge", signal=Edge(radius=0.05), starts_at=0.05, full_at=0.4)
        crevice = SignalCard(id="crevice", signal=Crevice(radius=0.15), starts_at=0.15, full_at=0.6, combine="max")
        blotches = SignalCard(
            id="blotches", signal=Noise(size=0.4, octaves=5, seed=17), starts_at=0.5, full_at=0.68, combine="max"
        )
        return where(edge, crevice, blotches, ("noise", Noise(size=1.5, octaves=4, seed=18), 0.2, 0.55), reached())
