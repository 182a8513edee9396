"""Air in the sun as the page draws it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.site import Site
from cenote.derive.sunlit import Sunlit
from cenote.derive.target import Read, Target
from cenote.light.fogged import SunlitAir


@dataclass(frozen=True)
class SunlitPack(Target):
    """Where the sun shines through the air: ``lit`` uint8 (Z, Y, X), 255 for all of it; ``box`` float32 (2, 3), the least corner of
    the cells and how far they reach, metres."""

    towards: tuple[float, float, float]
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"air": Sunlit(self.towards)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        air: SunlitAir = read.air
        lit = np.ascontiguousarray(np.round(air.lit.transpose(2, 1, 0) * 255).astype(np.uint8))
        return {"lit": lit, "box": np.stack([air.low, np.array(air.lit.shape) * air.cell]).astype(np.float32)}
