"""Surfaces as the page draws them: triangles and maps."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.maps import FaceGlow, SurfaceMaps
from cenote.derive.site import Site
from cenote.derive.surfaces import ObjectShape, Shape
from cenote.derive.target import Read, Target
from cenote.geometry.mesh import indexed
from cenote.weather.compose import Maps


@dataclass(frozen=True)
class MeshPack(Target):
    """A surface's triangles in its own frame, with a texture layout; with ``glow`` (V, 1) where some of it glows."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"shape": ObjectShape(self.id), "glow": FaceGlow(self.id)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        shape: Shape = read.shape
        corners = {
            "position": shape.mesh.corners.reshape(-1, 3),
            "normal": shape.local_normals.reshape(-1, 3),
            "tangent": shape.tangents.reshape(-1, 4),
            "uv": shape.atlas.uv().reshape(-1, 2),
        }
        if read.glow is not None:
            corners["glow"] = np.repeat(read.glow, 3)[:, None]
        columns, index = indexed(corners)
        return columns | {"index": index}


@dataclass(frozen=True)
class MapsPack(Target):
    """A surface's final maps at a level; bare is without any weather."""

    id: str
    level: int
    bare: bool = False
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"maps": SurfaceMaps(self.id, self.level, self.bare)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        maps: Maps = read.maps
        return {"base": maps.base, "orm": maps.orm, "normal": maps.normal}
