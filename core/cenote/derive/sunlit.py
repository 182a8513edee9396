"""Where the sun shines through the air of a site, for fog to show it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..geometry.mesh import Mesh
from ..geometry.rays import RayScene
from ..light.air import Medium
from ..light.daylight import casting
from ..light.fogged import SunlitAir
from ..scatter.instances import Placements, by_variant, placed_vertices
from ..signals.scene import MeasuredScene
from .colours import ItemMesh
from .graph import Graph
from .items import LookOfItem
from .planting import LayerPlacements
from .scene import WholeScene
from .site import Site
from .skies import panorama_pixels
from .target import Read, Target

# Cells at most, and the least side of one, metres; how far above all that stands there are some.
_MOST_CELLS, _LEAST_CELL, _MARGIN = 600_000, 0.25, 0.5
# What grows less high than this keeps the sun off no air that one would see it of, metres. Triangles of the rest at most.
_LOW, _MOST_TRIANGLES = 0.8, 800_000
_DETAIL = 1


@dataclass(frozen=True)
class Sunlit(Target):
    """Where the sun shines through the air: :class:`cenote.light.fogged.SunlitAir`.

    :ivar towards: unit direction towards the sun.
    """

    towards: tuple[float, float, float]

    def inputs(self, site: Site) -> Mapping[str, Any]:
        surfaces = set(site.surface_ids())
        layers = [layer for layer in site.planting if layer.shown and surfaces.intersection(layer.surfaces)]
        kinds = {
            kind: site.get(LookOfItem(kind))
            for kind in dict.fromkeys(kind for layer in layers for kind in layer.kinds())
        }
        tall = {kind: look.variants for kind, look in kinds.items() if look.height >= _LOW}
        return {
            "scene": WholeScene(), "towards": self.towards,
            "tables": {layer.id: LayerPlacements(layer.id) for layer in layers if tall.keys() & set(layer.kinds())},
            "meshes": {f"{kind} {variant}": ItemMesh(kind, variant, _DETAIL) for kind, many in tall.items() for variant in range(many)},
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> SunlitAir:
        items = _triangles(list(read.tables.values()), read.meshes)
        return sunlit(
            read.scene, RayScene(items), np.array(read.towards), items.reshape(-1, 3)[:, 1].max(initial=-np.inf)
        )


def sunlit_of(graph: Graph) -> Sunlit | None:
    """Where the sun, or the moon, shines through the fog of a site; None where there is neither."""
    document = graph.document
    if not Medium.of(document.air).fog:
        return None
    sun = casting(document.light, document.light.sky(panorama_pixels(graph)))
    if not sun.light.any():
        return None
    # Fog as soft as this tells no difference of a tenth of a degree, and a sun that hardly moved is not looked for anew.
    x, y, z = np.round(sun.direction, 3).tolist()
    return Sunlit((x, y, z))


def _triangles(tables: Sequence[Placements], meshes: Mapping[str, Mesh]) -> np.ndarray:
    """What is placed and tall, float32 (M, 3, 3): where it is too many, some of it."""
    found = [
        (table, meshes[name], rows)
        for table in tables
        for item, variant, rows in by_variant(table)
        if (name := f"{item} {variant}") in meshes
    ]
    total = sum(len(mesh.faces) * len(rows) for _, mesh, rows in found)
    step = max(1, -(-total // _MOST_TRIANGLES))
    placed = [
        placed_vertices(mesh, table, rows[::step])[:, mesh.faces].reshape(-1, 3, 3) for table, mesh, rows in found
    ]
    return np.concatenate([np.zeros((0, 3, 3), np.float32), *placed]).astype(np.float32)


def sunlit(scene: MeasuredScene, items: RayScene, towards: np.ndarray, highest: float = -np.inf) -> SunlitAir:
    """Where the sun shines through the air of a scene.

    :param items: what stands there besides. :param towards: unit float (3,). :param highest: top of those, metres.
    """
    low, high = (np.asarray(one, float) for one in scene.bounds)
    size = np.array([high[0] - low[0], max(high[1], highest) + _MARGIN - low[1], high[2] - low[2]])
    cell = max(float(np.prod(size) / _MOST_CELLS) ** (1 / 3), _LEAST_CELL)
    counts = np.maximum(np.ceil(size / cell), 1).astype(int)
    at = np.stack(np.meshgrid(*(np.arange(n) + 0.5 for n in counts), indexing="ij"), axis=-1) * cell + low
    origins = at.reshape(-1, 3).astype(np.float32)
    ways = np.ascontiguousarray(np.broadcast_to(towards.astype(np.float32), origins.shape))
    shaded = scene.rays.occluded(origins, ways)
    left = np.flatnonzero(~shaded)
    shaded[left] = items.occluded(origins[left], ways[left])
    return SunlitAir((~shaded).astype(np.float32).reshape(counts), low, cell)
