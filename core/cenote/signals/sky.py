"""Sky exposure."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from ..geometry.rays import hemisphere, open_share
from .base import SIGNALS, Box, MeasuredScene, Reading, Samples, Signal

RAYS = 64


@SIGNALS.register
class SkyExposure(Signal):
    """How much of the sky a point sees, 1 for open level ground. An overcast sky: what it sees is what it is lit by."""

    kind: Literal["sky"] = "sky"
    reading = Reading("Sky exposure", "", 0, 1)
    on_cells = True
    suggested = (0.05, 0.5)

    def measure(self, samples: Samples, scene: MeasuredScene) -> np.ndarray:
        # The same directions everywhere, spread by the cosine about straight up: a level point then needs no weights.
        sky = np.ascontiguousarray(hemisphere(RAYS)[:, [0, 2, 1]])
        return np.minimum(open_share(scene.rays, samples.positions, samples.normals, sky, False), 1)

    def depends_on(self, scene: MeasuredScene, on: str | Box = "") -> list[Any]:
        return scene.digest()
