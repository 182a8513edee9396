"""Small pictures of kit items and materials, for their browsers."""

from __future__ import annotations

import numpy as np

from ..derive.cache import key
from ..derive.workshop import Workshop
from ..materials.tile import relief_normals
from ..weather.compose import LaidTile, encoded
from .item import item_picture

ITEM_SIZE = (200, 160)
_SUN = np.array([-0.48, 0.58, 0.66]) / np.linalg.norm([-0.48, 0.58, 0.66])


def item_portrait(workshop: Workshop, kind: str) -> np.ndarray:
    """A kit item, drawn once and kept: uint8 (h, w, 3)."""

    def make() -> dict[str, np.ndarray]:
        mesh = workshop.shelf.mesh(kind, 0)
        made_of = [part for part in mesh.part_names if workshop.document.has_material(part)]
        tiles = {part: workshop.tile(part) for part in made_of}
        return {"picture": item_picture(mesh, workshop.shelf.card(kind), tiles, *ITEM_SIZE)}

    return workshop.cache.arrays(key("portrait", workshop.items.name(kind)), make)["picture"]


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
    return encoded(colour[rows][:, rows] / (1 + 0.2 * colour[rows][:, rows]))
