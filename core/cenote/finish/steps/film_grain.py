"""Grain."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from scipy import ndimage

from ...colour import LUMINANCE
from ...parameters import count, quantity
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class FilmGrain(Step):
    """Strews grain, most in middle tones, as film has it."""

    kind: Literal["film_grain"] = "film_grain"
    title: ClassVar[str] = "Film grain"
    help: ClassVar[str] = "Grain as film has it: most in middle tones, none in black and white."
    domain: ClassVar[Domain] = "tones"
    strength: float = quantity(3, low=0, high=30, unit="%", step=0.5, help="How much middle tones vary.")
    size: float = quantity(1.2, low=0.5, high=8, unit="px", step=0.1, help="How large grains are, pixels.")
    coloured: float = quantity(
        20, low=0, high=100, unit="%", step=5, help="How much each colour has a grain of its own."
    )
    seed: int = count(0, low=0, high=9999, help="Another number strews other grains.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """Noise of one size, by how far a tone is from black and white."""
        draw = np.random.Generator(np.random.Philox(key=self.seed))
        noise = draw.standard_normal((*picture.shape[:2], 4), np.float32)
        noise = ndimage.gaussian_filter(noise, (self.size / 2, self.size / 2, 0), mode="wrap")
        noise /= np.maximum(noise.std((0, 1)), 1e-6)
        own = np.float32(self.coloured / 100)
        mixed = noise[..., :3] * own + noise[..., 3:] * (1 - own)
        tone = np.clip(picture @ LUMINANCE, 0, 1)[..., None]
        return np.asarray(np.clip(picture + mixed * (self.strength / 100) * 4 * tone * (1 - tone), 0, 1), np.float32)
