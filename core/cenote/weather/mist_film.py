"""A film of mist as a cover."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..masks.where import Where
from ..parameters import quantity
from ..signals.noise import Noise
from .base import COVERS, Cover, CoverLook, Film, natures, reached, where
from .climate import Conditions


@COVERS.register
class MistFilm(Cover):
    """What the damp air breathes on glass and metal: too fine to see as drops, it greys what it covers. Strokes of a brush wipe it away."""

    kind: Literal["mist_film"] = "mist_film"
    title: ClassVar[str] = "Mist film"
    sits_on = natures(
        glass=1, ice=0.8, metal=0.9, painted_metal=0.85, painted_timber=0.4, growth=0.3, stone=0.15
    )  # fmt: skip
    opacity: float = quantity(0.45, low=0, high=1, unit="", step=0.05, help="How far it hides what it lies on.")

    def weathered(self, now: Conditions) -> CoverLook:
        # On a day as damp as any the air leaves none.
        strength = min(max((now.damp - 0.62) / 0.25, 0.0), 1.0)
        return CoverLook(Film((0.5, 0.53, 0.55), 0.62), strength, softness=0.8, opacity=self.opacity * strength)

    @classmethod
    def usual_where(cls) -> Where:
        return where(("noise", Noise(size=0.12, octaves=4, seed=61), 0.1, 0.4), reached())
