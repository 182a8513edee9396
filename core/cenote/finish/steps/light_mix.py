"""How much there is of each light."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from ...parameters import colour, quantity
from ..base import STEPS, Domain, Negative, Step


def _stops(help: str) -> Any:
    return quantity(0, low=-8, high=8, unit="EV", step=0.1, help=help)


@STEPS.register
class LightMix(Step):
    """Makes sun, sky, lamps and what glows brighter, darker or of another colour, each for itself."""

    kind: Literal["light_mix"] = "light_mix"
    title: ClassVar[str] = "Light mix"
    help: ClassVar[str] = (
        "Sun, sky, lamps and what glows, each brighter, darker or of another colour after the still was taken."
    )
    domain: ClassVar[Domain] = "light"
    sun: float = _stops("Light of sun and moon.")
    sun_tint: tuple[float, float, float] = colour((1, 1, 1), help="Factor on its colour.")
    sky: float = _stops("Light of the sky.")
    sky_tint: tuple[float, float, float] = colour((1, 1, 1), help="Factor on its colour.")
    lamps: float = _stops("Light of lamps.")
    lamps_tint: tuple[float, float, float] = colour((1, 1, 1), help="Factor on its colour.")
    glow: float = _stops("Light of what glows.")
    glow_tint: tuple[float, float, float] = colour((1, 1, 1), help="Factor on its colour.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """What there is more or less of each is added to the picture."""
        out = picture.copy()
        for name, share in negative.lights.items():
            factor = 2.0 ** getattr(self, name) * np.array(getattr(self, f"{name}_tint"))
            out += share * (factor - 1).astype(np.float32)
        return np.maximum(out, 0)
