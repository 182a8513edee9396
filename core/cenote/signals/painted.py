"""What was painted by hand."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ..geometry.strokes import BrushStroke, stroked
from .base import SIGNALS, Reading, Signal
from .scene import MeasuredScene, Samples


@SIGNALS.register
class Painted(Signal):
    """What was painted with a brush: 1 where it covers in full, 0 elsewhere."""

    kind: Literal["painted"] = "painted"
    strokes: tuple[BrushStroke, ...] = Field(
        (), max_length=2000, description="Strokes in their order.", json_schema_extra={"draws": "strokes"}
    )
    reading = Reading("Painted", "", 0, 1)
    suggested = (0.0, 1.0)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        return stroked(samples.positions, self.strokes)
