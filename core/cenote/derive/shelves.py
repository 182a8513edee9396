"""Kit items by name, as far as something places them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..kit.shelf import ImportedItem, Shelf
from .graph import Read, Target
from .site import Site
from .sources import ImportedMesh


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
        return {"items": items, "meshes": meshes}

    @staticmethod
    def make(read: Read) -> Shelf:
        return Shelf.of(read.items, {read.items[kind].mesh: mesh for kind, mesh in read.meshes.items()})
