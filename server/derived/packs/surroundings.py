"""The land around a site as the page draws it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.site import Site
from cenote.derive.surroundings import Land, Surroundings
from cenote.derive.target import Read, Target


@dataclass(frozen=True)
class LandPack(Target):
    """Triangles of the land around a site, tinted as the edge of the ground looks at a level of its maps."""

    level: int
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"land": Surroundings(self.level)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        land: Land = read.land
        return {
            "position": land.positions,
            "normal": land.normals,
            "colour": land.tints,
            "index": land.faces.ravel(),
            "textured": np.array([land.textured], np.uint8),
        }
