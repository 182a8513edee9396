"""Light that is scattered in the lens."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from scipy import ndimage

from ...parameters import quantity
from ..base import STEPS, Domain, Negative, Step

# Each ring is so many times as wide as the one before, and has so many times its light.
_RINGS, _WIDER, _WEAKER = 5, 2.2, 0.62


@STEPS.register
class Bloom(Step):
    """Spreads some of the light about what is bright; none is lost."""

    kind: Literal["bloom"] = "bloom"
    title: ClassVar[str] = "Bloom"
    help: ClassVar[str] = "Light that spreads about what is bright, as a lens scatters it: none is lost or made."
    domain: ClassVar[Domain] = "light"
    spread: float = quantity(6, low=0, high=60, unit="%", step=0.5, help="Share of the light that is spread.")
    width: float = quantity(
        1.0, low=0.05, high=20, unit="%", step=0.1, help="How far it is spread at first, of the picture's width."
    )

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """A sum of ever wider Gaussians takes the place of a share of the light."""
        rings = _WEAKER ** np.arange(_RINGS)
        about = np.zeros_like(picture)
        for ring, weight in enumerate(rings / rings.sum()):
            sigma = self.width / 100 * picture.shape[1] * _WIDER**ring / 3
            about += np.float32(weight) * ndimage.gaussian_filter(
                picture, (sigma, sigma, 0), mode="nearest", truncate=3
            )
        share = np.float32(self.spread / 100)
        return picture * (1 - share) + about * share
