"""Small pictures of kit items and materials, for their browsers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..colour import srgb_bytes
from ..derive.shelves import ItemFacts, ItemsOnShelf
from ..derive.site import Site
from ..derive.target import Read, Target
from ..derive.tiles import MaterialTile
from ..materials.tile import relief_normals
from ..pictures.item import item_picture
from ..weather.tiles import LaidTile

ITEM_SIZE = (200, 160)
_SUN = np.array([-0.48, 0.58, 0.66]) / np.linalg.norm([-0.48, 0.58, 0.66])


@dataclass(frozen=True)
class ItemPortrait(Target):
    """A kit item, drawn once and kept: uint8 (h, w, 3)."""

    kind: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        parts = site.get(ItemFacts(self.kind)).parts
        return {"kind": self.kind, "shelf": ItemsOnShelf((self.kind,)),
                "tiles": {part: MaterialTile(part) for part in parts if site.has_material(part)}}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        mesh = read.shelf.mesh(read.kind, 0)
        tiles = {part: read.tiles[part] for part in mesh.part_names if part in read.tiles}
        return item_picture(mesh, read.shelf.card(read.kind), tiles, *ITEM_SIZE)

    @staticmethod
    def pack(value: np.ndarray) -> dict[str, np.ndarray]:
        return {"picture": value}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> np.ndarray:
        return arrays["picture"]


@dataclass(frozen=True)
class TilePortrait(Target):
    """A material as a flat tile in slanting light: uint8 (h, w, 3)."""

    kind: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"tile": MaterialTile(self.kind)}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        return tile_portrait(read.tile)


def tile_portrait(tile: LaidTile, pixels: int = 160) -> np.ndarray:
    """A flat tile in slanting light, uint8 (pixels, pixels, 3)."""
    side = len(tile.pixels)
    step = max(1, side // (2 * pixels))
    some = tile.pixels[: step * pixels * 2 : step, : step * pixels * 2 : step]
    normals = relief_normals(tile.pixels[..., 3], tile.size, tile.relief)[
        : len(some) * step : step, : len(some) * step : step
    ]
    lit = np.clip(normals @ _SUN, 0, 1)[..., None]
    half = _SUN + np.array([0, 0, 1.0])
    half /= np.linalg.norm(half)
    width = np.maximum(some[..., 4:5] ** 4, 0.004)
    gloss = np.clip(normals @ half, 0, 1)[..., None] ** (2 / width)
    metal = some[..., 5:6]
    colour = some[..., :3] * ((lit * 1.35 + 0.5) * (1 - metal) + metal * (0.35 + 1.3 * gloss))
    colour = colour + (1 - metal) * 0.04 * gloss / (8 * width + 0.1)
    rows = np.linspace(0, len(some) - 1, pixels).astype(int)
    return srgb_bytes(colour[rows][:, rows] / (1 + 0.2 * colour[rows][:, rows]))
