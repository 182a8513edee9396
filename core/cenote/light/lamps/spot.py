"""Lamps with a cone of light."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ...parameters import quantity
from .base import LAMPS, Beam, Lamp


@LAMPS.register
class SpotLamp(Lamp):
    """A lamp with a cone of light, which fades out towards its edge."""

    kind: Literal["spot_lamp"] = "spot_lamp"
    title: ClassVar[str] = "Spot lamp"
    help: ClassVar[str] = "Shines in a cone with a soft edge, where it is aimed."
    angle: float = quantity(60, low=1, high=170, unit="°", step=1, help="How wide its cone is, from edge to edge.")
    soft: float = quantity(
        0.5, low=0, high=1, unit="", step=0.05, help="Share of the cone over which it fades out towards its edge."
    )

    def _shape(self, cosine: np.ndarray) -> np.ndarray:
        outer, inner = np.cos(np.radians(self.angle / 2)), np.cos(np.radians(self.angle / 2 * (1 - self.soft)))
        t = np.clip((cosine - outer) / max(inner - outer, 1e-9), 0, 1)
        return np.asarray(t * t * (3 - 2 * t))

    @property
    def _peak(self) -> float:
        """Candela along its axis: all its light lies in the cone."""
        outer = np.cos(np.radians(self.angle / 2))
        cosine = outer + (1 - outer) * (np.arange(2048) + 0.5) / 2048
        return float(self.flux / max(2 * np.pi * (1 - outer) * self._shape(cosine).mean(), 1e-9))

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """Within its cone."""
        return self._peak * self._shape(-ways[:, 1])

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """Its cone."""
        return Beam(self._along(self._peak), self.angle / 2, self.angle / 2 * (1 - self.soft))
