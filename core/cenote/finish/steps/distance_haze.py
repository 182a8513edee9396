"""Haze that is added afterwards."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import colour, quantity
from ..base import STEPS, Domain, Negative, Step


@STEPS.register
class DistanceHaze(Step):
    """Lays a haze over what is far."""

    kind: Literal["distance_haze"] = "distance_haze"
    title: ClassVar[str] = "Distance haze"
    help: ClassVar[str] = "A haze over what is far, of any colour; the sky stays as it is."
    domain: ClassVar[Domain] = "light"
    visibility: float = quantity(
        300, low=1, high=20000, unit="m", step=10, help="At this distance a twentieth of the contrast is left."
    )
    starts: float = quantity(0, low=0, high=5000, unit="m", step=1, help="Nearer than this there is none.")
    colour: tuple[float, float, float] = colour((0.6, 0.65, 0.7), help="Its light.")

    def apply(self, picture: np.ndarray, negative: Negative) -> np.ndarray:
        """By Beer and Lambert's law."""
        far = np.maximum(np.where(np.isfinite(negative.depth), negative.depth, 0) - self.starts, 0)
        left = np.exp(np.log(0.05) / self.visibility * far)[..., None]
        hazed = picture * left + np.array(self.colour) * (1 - left)
        cover = negative.masks.cover[..., None]
        return np.asarray(hazed * cover + picture * (1 - cover))
