"""Kit items by name, as far as something places them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..kit.shelf import ImportedItem, Shelf
from ..materials.own_textures import OwnTextures
from .site import Site
from .sources import OWN_TEXTURES, ImportedMesh, Source, source_name
from .target import Read, Target


def whole_shelf(site: Site) -> Shelf:
    """All items that a site can place, for what is known of them without their meshes."""
    return site.once("shelf", lambda at: Shelf(at.kit))


@dataclass(frozen=True)
class ItemsOnShelf(Target):
    """Some items, with their meshes: :class:`cenote.kit.shelf.Shelf`. How stiff they stand in the wind does not matter.

    :ivar kinds: their names in documents, sorted.
    """

    kinds: tuple[str, ...]

    def inputs(self, site: Site) -> Mapping[str, Any]:
        shelf = whole_shelf(site)
        items = {kind: shelf.item(kind) for kind in self.kinds}
        meshes = {kind: ImportedMesh(item.mesh) for kind, item in items.items() if isinstance(item, ImportedItem)}
        textures = {item.textures: Source(OWN_TEXTURES, item.textures)
                    for item in items.values() if isinstance(item, ImportedItem) and item.textures
                    and site.has_source(source_name(OWN_TEXTURES, item.textures))}  # fmt: skip
        return {"items": items, "meshes": meshes, "textures": textures}

    @staticmethod
    def make(read: Read) -> Shelf:
        textures = {name: OwnTextures.from_arrays(arrays) for name, arrays in read.textures.items()}
        return Shelf.of(read.items, {read.items[kind].mesh: mesh for kind, mesh in read.meshes.items()}, textures)


@dataclass(frozen=True)
class Facts:
    """What is known of an item once it has been built.

    :ivar parts: names of its parts over all variants. :ivar bounds: float64 (variants, 2, 3), the least and the greatest corner
        of each variant at size 1, metres.
    """

    parts: tuple[str, ...]
    bounds: np.ndarray

    @property
    def height(self) -> float:
        """Of its tallest variant, metres."""
        return float(self.bounds[:, 1, 1].max())


@dataclass(frozen=True)
class ItemFacts(Target):
    """What is known of an item once it has been built, kept so that it need not be built for that: :class:`Facts`."""

    kind: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"kind": self.kind, "shelf": ItemsOnShelf((self.kind,))}

    @staticmethod
    def make(read: Read) -> Facts:
        shelf: Shelf = read.shelf
        variants = range(shelf.item(read.kind).variants)
        bounds = np.array([shelf.mesh(read.kind, row).bounds for row in variants])
        return Facts(tuple(shelf.parts(read.kind)), bounds)

    @staticmethod
    def pack(value: Facts) -> dict[str, np.ndarray]:
        return {"parts": np.frombuffer("\n".join(value.parts).encode(), np.uint8), "bounds": value.bounds}

    @staticmethod
    def unpack(arrays: dict[str, np.ndarray]) -> Facts:
        return Facts(tuple(arrays["parts"].tobytes().decode().split("\n")), arrays["bounds"])
