"""What all streaks share: they are thin films that follow the water down."""

from __future__ import annotations

from typing import ClassVar

from ..masks.where import Where
from ..parameters import quantity
from ..signals.noise import Noise
from ..signals.runoff import Runoff
from ..signals.slope import Slope
from .base import Colour, Cover, CoverLook, Film, grown, natures, reached, where
from .climate import Conditions


class Streaks(Cover):
    """A film that running water leaves, wider and darker with the years.

    :cvar colour: linear. :cvar rough: its roughness. :cvar pace: years that 63 % of it takes.
    :cvar soaks, shines: how far it darkens what is porous, and how near its shine comes to water; each in [0, 1].
    :cvar flows: runoff at which it starts and is full, m² of rained-on plan. :cvar steep: the same of slope, degrees.
    :cvar seed: of the noise that parts one streak from the next.
    """

    colour: ClassVar[Colour]
    rough: ClassVar[float]
    pace: ClassVar[float]
    soaks: ClassVar[float]
    shines: ClassVar[float] = 0.0
    flows: ClassVar[tuple[float, float]]
    steep: ClassVar[tuple[float, float]]
    seed: ClassVar[int]
    opacity: float = quantity(0.7, low=0, high=1, unit="", step=0.02, help="How much a streak hides where it is full.")

    def weathered(self, now: Conditions) -> CoverLook:
        return CoverLook(
            Film(self.colour, self.rough),
            1.1 * grown(now.years, self.pace) * (0.4 + 0.9 * now.damp),
            joints=0.25,
            softness=0.8,
            opacity=self.opacity,
            soak=self.soaks,
            gloss=self.shines,
        )

    @classmethod
    def usual_where(cls) -> Where:
        """Narrow streaks where water runs down what is steep enough."""
        return where(
            ("runoff", Runoff(), *cls.flows),
            ("slope", Slope(), *cls.steep),
            ("streaks", Noise(size=0.22, octaves=4, upright=9, seed=cls.seed), 0.36, 0.62),
            reached(),
        )


def on_most(earth: float) -> dict:
    """What streaks hold to: all but ice, and little to earth."""
    return natures(rest=1, earth=earth, growth=0.4, glass=0.4, ice=0)
