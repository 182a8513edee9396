"""The kit and materials as the page draws them: meshes, pictures of leaves, tiles, and small pictures for browsers."""

from __future__ import annotations

import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image

from cenote.colour import srgb_bytes
from cenote.derive.items import ItemPack, StandIn, placed_items
from cenote.derive.shelves import ItemFacts, ItemsOnShelf
from cenote.derive.site import Site
from cenote.derive.target import Read, Target
from cenote.derive.tiles import MaterialTile
from cenote.formats.pack import pack
from cenote.kit.base import DETAILS
from cenote.render.portraits import ItemPortrait, TilePortrait
from cenote.weather.tiles import shrunk, tile_pictures


def opaque(picture: np.ndarray) -> np.ndarray:
    """Pixels uint8 (H, W, 3) with an alpha of 255, as textures are uploaded."""
    return np.dstack([picture, np.full(picture.shape[:2], 255, np.uint8)])


def placed_on(site: Site) -> list[str]:
    """The kit items that the site's shown scatters place, in order of first use."""
    surfaces = set(site.surface_ids())
    return placed_items(layer for layer in site.planting if layer.shown and surfaces.intersection(layer.surfaces))


def tiles_of(site: Site, items: Iterable[str]) -> list[str]:
    """The materials that items are made of."""
    parts = dict.fromkeys(part for kind in items for part in site.get(ItemFacts(kind)).parts)
    return [part for part in parts if site.has_material(part)]


@dataclass(frozen=True)
class KitPack(Target):
    """What the site's placed items look like, in one piece: bytes.

    :ivar plain: tiles are their colours alone, on a quarter of the pixels, as machines want that draw slowly.
    """

    plain: bool

    def inputs(self, site: Site) -> Mapping[str, Any]:
        items = placed_on(site)
        return {
            "items": items,
            "packs": {kind: [ItemPack(kind, detail) for detail in DETAILS] for kind in items},
            "far": {kind: StandIn(kind) for kind in items},
            "shelf": ItemsOnShelf(tuple(sorted(items))),
            "tiles": {kind: MaterialTile(kind) for kind in tiles_of(site, items)}, "plain": self.plain,
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> bytes:
        arrays: dict[str, np.ndarray] = {}
        for kind in read.items:
            for detail, meshes in enumerate(read.packs[kind]):
                arrays |= {f"item/{kind}/{detail}/{name}": array for name, array in meshes.items()}
            arrays |= {f"item/{kind}/{len(DETAILS)}/{name}": array for name, array in read.far[kind].items()}
            card = read.shelf.card(kind)
            if card is not None:
                arrays[f"item/{kind}/card"] = srgb_bytes(card)
        for kind, tile in read.tiles.items():
            if read.plain:
                small = shrunk(tile, tile.size / len(tile.pixels) * 1.5)
                arrays[f"tile/{kind}/base"] = opaque(tile_pictures(small)[0])
                continue
            for name, picture in zip(("base", "orm", "normal"), tile_pictures(tile), strict=True):
                arrays[f"tile/{kind}/{name}"] = opaque(picture)
        return pack(arrays, {})


@dataclass(frozen=True)
class TilePack(Target):
    """A baked material: colour, roughness and metalness, and normals of one tile, as bytes."""

    kind: str
    keep = "nothing"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"tile": MaterialTile(self.kind)}

    @staticmethod
    def make(read: Read) -> bytes:
        base, orm, normal = (opaque(picture) for picture in tile_pictures(read.tile))
        return pack({"base": base, "orm": orm, "normal": normal}, {"size": read.tile.size})


def png(pixels: np.ndarray) -> bytes:
    """A picture as a PNG file, from uint8 (H, W, 3)."""
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG")
    return stream.getvalue()


@dataclass(frozen=True)
class ItemPicture(Target):
    """A kit item as a small picture: a PNG file."""

    kind: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"picture": ItemPortrait(self.kind)}

    @staticmethod
    def make(read: Read) -> bytes:
        return png(read.picture)


@dataclass(frozen=True)
class MaterialPicture(Target):
    """A material as a small picture of a lit tile: a PNG file."""

    kind: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"picture": TilePortrait(self.kind)}

    @staticmethod
    def make(read: Read) -> bytes:
        return png(read.picture)
