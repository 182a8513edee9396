"""Placed items as the page draws them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from cenote.derive.coats import CoatMasks
from cenote.derive.colours import ItemMesh
from cenote.derive.planting import LayerPlacements, layer_of
from cenote.derive.shelves import whole_shelf
from cenote.derive.site import Site
from cenote.derive.target import Read, Target
from cenote.scatter.instances import by_variant
from cenote.scatter.placements import Placements

from .parts import parts_of


@dataclass(frozen=True)
class PlacementsPack(Target):
    """What a scatter layer places, as drawing wants it: arrays, and what is said about them.

    Triangles are counted as the season has the items. Its rows lie in parts, one a plot; see :mod:`derived.packs.parts`.
    """

    layer: str
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        shelf, layer = whole_shelf(site), layer_of(site, self.layer)
        kinds = sorted(set(layer.kinds()))
        meshes = {kind: [ItemMesh(kind, row) for row in range(shelf.item(kind).variants)] for kind in kinds}
        return {"placements": LayerPlacements(self.layer), "meshes": meshes}

    @staticmethod
    def make(read: Read) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
        placed: Placements = read.placements
        triangles = sum(len(read.meshes[kind][variant].faces) * len(rows) for kind, variant, rows in by_variant(placed))
        arrays = {
            "item": placed.items,
            "variant": placed.variants,
            "position": placed.positions,
            "rotation": placed.rotations,
            "size": placed.sizes,
            "tint": placed.tints,
            # Enough of the id to thin by, evenly and always the same ones; and the whole of it, to pick by.
            "rank": (placed.ids >> np.uint64(48)).astype(np.uint16),
            "id": placed.ids.view(np.uint32).reshape(-1, 2),
            "origin": placed.origins,
        }
        arrays |= parts_of(arrays, placed.first)
        meta = {
            "items": list(placed.names),
            "count": len(placed),
            "triangles": triangles,
            "densest": placed.densest if np.isfinite(placed.densest) else None,
        }
        return arrays, meta


@dataclass(frozen=True)
class CoatsPack(Target):
    """The masks of covers at a scatter layer's items."""

    layer: str
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"masks": CoatMasks(self.layer)}

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        return {"masks": read.masks}
