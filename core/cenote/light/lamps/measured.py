"""Lamps whose shape of light was measured: photometric files."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from .base import LAMPS, Beam, Lamp

# Degrees up to which a lamp that is drawn with few means lights what is about it.
_DRAWN = 85.0


@LAMPS.register
class MeasuredLamp(Lamp):
    """A lamp that shines as a photometric file tells; all of it is as strong as is set here."""

    kind: Literal["measured_lamp"] = "measured_lamp"
    title: ClassVar[str] = "Measured lamp"
    help: ClassVar[str] = "Shines as a photometric file (IES LM-63) tells."
    source: str = Field(
        pattern=r"^[0-9a-f]{64}$",
        description="Content hash of the stored photometry.",
        json_schema_extra={"brought": "photometry"},
    )
    file_name: str = Field("", max_length=200)

    def candela(self, ways: np.ndarray, profile: np.ndarray | None = None) -> np.ndarray:
        """As it was measured; where the file is lost, as a bulb.

        :param profile: float (180 + 1, 360), candela for each lm by degrees from straight down, and from X round to −Z.
        """
        if profile is None:
            return np.full(len(ways), self.flux / (4 * np.pi))
        down = np.degrees(np.arccos(np.clip(-ways[:, 1], -1, 1)))
        turn = np.degrees(np.arctan2(-ways[:, 2], ways[:, 0])) % 360
        row, column = np.minimum(down.astype(int), 179), turn.astype(int) % 360
        u, v = turn - np.floor(turn), down - row
        after = (column + 1) % 360
        upper = profile[row, column] * (1 - u) + profile[row, after] * u
        lower = profile[row + 1, column] * (1 - u) + profile[row + 1, after] * u
        return np.asarray(self.flux * (upper * (1 - v) + lower * v))

    def beam(self, profile: np.ndarray | None = None) -> Beam:
        """Downwards, as it is on the mean all around."""
        if profile is None:
            return Beam(self._along(self.flux / (4 * np.pi)), 180, 180)
        rounds = profile.mean(1)[: int(_DRAWN) + 1] * self.flux
        peak = float(max(rounds.max(), 1e-9))
        return Beam(self._along(peak), _DRAWN, 0, profile=(rounds / peak).astype(np.float32))
