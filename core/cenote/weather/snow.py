"""Snow as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity, switch
from ..signals.noise import Noise
from ..signals.sky import SkyExposure
from ..signals.slope import Slope
from .base import COVERS, Cover, CoverLook, natures, where
from .blanket import LEAST, Blanket
from .climate import Conditions

# Metres of snow that hide a surface whole.
_HIDES = 0.06


@COVERS.register
class Snow(Cover):
    """Snow. It lies where the sky is open and the ground not too steep, fills joints and rounds what is sharp."""

    kind: Literal["snow"] = "snow"
    title: ClassVar[str] = "Snow"
    coats: ClassVar[bool] = True
    coats_above: ClassVar[float] = 1.0
    sits_on = natures(rest=1, glass=0.85, metal=0.9)
    rounding: float = quantity(
        0.8, low=0, high=1, unit="", step=0.05, help="How far it levels joints and edges below it."
    )

    lies_as_sheet: bool = switch(
        True, help="Whether snow deeper than 2 cm is a surface of its own, which has edges and bridges small gaps."
    )
    slides: float = quantity(
        80, low=0, high=100, unit="%", step=5,
        help="Share of the snow that the card of slope turns away which lies in a heap below; the rest blows away.",
    )  # fmt: skip
    bridges: float = quantity(
        0.8, low=0, high=2, unit="×", step=0.1, help="The widest gap that it spans, against its depth."
    )

    def weathered(self, now: Conditions) -> CoverLook:
        lies = min(now.snow / _HIDES, 1.0)
        return CoverLook(
            "snow",
            1.25 * lies,
            joints=0.55,
            softness=0.3,
            thickness=0.6 * min(now.snow, 0.12),
            flattens=self.rounding * lies,
            # It hides what it soaks, but for the wet edge where it melts.
            soak=0.6,
            rim=0.12,
        )

    def blanket(self, now: Conditions) -> Blanket | None:
        depth = now.snow * min(self.amount, 1.5)
        if not self.lies_as_sheet or depth < LEAST:
            return None
        return Blanket("snow", depth, self.slides / 100, self.bridges * depth)

    @classmethod
    def usual_where(cls) -> Where:
        """Slides off what is steeper than half a right angle, as dry snow does."""
        return where(
            ("slope", Slope(), 52, 38),
            ("sky", SkyExposure(), 0.18, 0.5),
            ("noise", Noise(size=1.5, octaves=5, seed=43), 0.08, 0.3),
        )
