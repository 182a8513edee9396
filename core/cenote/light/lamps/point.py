"""Lamps that shine all around."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from .base import LAMPS, Beam, Lamp


@LAMPS.register
class PointLamp(Lamp):
    """A lamp that shines all around alike: a bulb, a lantern, a flame."""

    kind: Literal["point_lamp"] = "point_lamp"
    title: ClassVar[str] = "Point lamp"
    help: ClassVar[str] = "Shines all around alike: a bulb, a lantern."

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """The same along all ways."""
        return np.full(len(ways), self.flux / (4 * np.pi))

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """All around."""
        return Beam(self._along(self.flux / (4 * np.pi)), 180, 180)
