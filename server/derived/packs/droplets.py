"""Drops of water as the page draws them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.droplets import DropletMesh
from cenote.derive.site import Site
from cenote.derive.target import Read, Target
from cenote.weather.blanket import Sheet


@dataclass(frozen=True)
class DropletPack(Target):
    """The drops of a layer on a surface."""

    layer: str
    id: str
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"mesh": DropletMesh(self.layer, self.id)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        mesh: Sheet = read.mesh
        return {"position": mesh.positions, "normal": mesh.normals, "index": mesh.faces.astype(np.uint32).ravel()}
