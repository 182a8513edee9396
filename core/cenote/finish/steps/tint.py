"""A colour over all."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import choice, colour
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class Tint(Step):
    """Lays a colour over a picture."""

    kind: Literal["tint"] = "tint"
    title: ClassVar[str] = "Tint"
    help: ClassVar[str] = "A colour over the picture: multiplied, or as soft light, which keeps black and white."
    domain: ClassVar[Domain] = "tones"
    by_colour: ClassVar[bool] = True
    blend: Literal["multiply", "soft light"] = choice("soft light", help="How the colour is laid over.")
    colour: tuple[float, float, float] = colour((0.6, 0.5, 0.4), help="The colour, as a tone.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """By the formulas of Compositing and Blending Level 1 (W3C, 2015)."""
        over = np.array(self.colour)
        if self.blend == "multiply":
            return np.asarray(picture * over, np.float32)
        bent = np.where(picture <= 0.25, ((16 * picture - 12) * picture + 4) * picture, np.sqrt(np.clip(picture, 0, 1)))
        darker = picture - (1 - 2 * over) * picture * (1 - picture)
        brighter = picture + (2 * over - 1) * (bent - picture)
        return np.asarray(np.where(over <= 0.5, darker, brighter), np.float32)
