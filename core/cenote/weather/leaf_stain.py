"""The stain of fallen leaves as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.leaf_fall import LeafFall
from ..signals.noise import Noise
from .base import COVERS, Cover, CoverLook, Film, grown, natures, reached, where
from .climate import Conditions


@COVERS.register
class LeafStain(Cover):
    """Brown stains where leaves have lain and rotted."""

    kind: Literal["leaf_stain"] = "leaf_stain"
    title: ClassVar[str] = "Leaf stain"
    sits_on = natures(rest=0.8, growth=0.3, earth=0.7, glass=0.3, ice=0.2)
    opacity: float = quantity(0.5, low=0, high=1, unit="", step=0.05, help="How dark its stains are.")

    def weathered(self, now: Conditions) -> CoverLook:
        fresh = 0.6 + 0.6 * min(max((now.season - 0.5) / 0.3, 0), 1)
        return CoverLook(
            Film((0.055, 0.032, 0.014), 0.9),
            grown(now.years, 3) * fresh,
            joints=0.35,
            softness=0.7,
            opacity=self.opacity,
            soak=0.3,
        )

    @classmethod
    def usual_where(cls) -> Where:
        """Below plants: choose which planting in the card of leaf fall."""
        return where(
            ("fall", LeafFall(), 0.05, 0.9), ("noise", Noise(look="patches", size=0.4, seed=59), 0.3, 0.6), reached()
        )
