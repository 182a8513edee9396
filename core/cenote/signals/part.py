"""Parts of an object."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from .around import PARTS, Around
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class OnPart(Signal):
    """Whether a point belongs to one of the chosen parts: 1 there, 0 elsewhere."""

    kind: Literal["part"] = "part"
    parts: tuple[str, ...] = Field(
        (),
        max_length=60,
        description="Names of parts, as the objects' own; none chosen means all.",
        json_schema_extra={"picks": "parts"},
    )
    reading = Reading("On part", "", 0, 1)
    suggested = (0.4, 0.6)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        if samples.parts is None or not self.parts:
            return np.full(len(samples), 0.0 if self.parts else 1.0, np.float32)
        chosen = np.array([name in self.parts for name in samples.part_names], np.float32)
        return chosen[samples.parts]

    def reaches(self, around: Around, low: np.ndarray, high: np.ndarray) -> np.ndarray:
        return np.broadcast_to(around.only(PARTS), (len(low), len(around)))
