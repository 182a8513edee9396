"""The items that a site can place: those that come with the product, and its own."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

import fast_simplification
import numpy as np
from pydantic import Field

from ..geometry.mesh import Mesh, checked
from ..parameters import Declared, quantity
from .base import KIT, Group, KitItem

if TYPE_CHECKING:
    ShippedItem = KitItem
else:
    ShippedItem = KIT.union()


class ImportedItem(KitItem):
    """An item from a file."""

    kind: Literal["imported_item"] = "imported_item"
    name: ClassVar[str] = "Imported"
    group: ClassVar[Group] = "yard"
    variants: ClassVar[int] = 1
    grows: ClassVar[bool] = False
    mesh: str = Field(pattern=r"^[0-9a-f]{64}$", description="Content hash of the stored mesh.")
    file_name: str = Field("", max_length=200)
    material: str = Field("planed_timber", description="What it is made of.", json_schema_extra={"picks": "material"})


class OwnItem(Declared):
    """An item of a site's own: one of the product's with other parameters, or one from a file."""

    id: str = Field(pattern=r"^own-[a-z0-9-]{1,36}$")
    name: str = Field("Item", min_length=1, max_length=80)
    source: Annotated[ShippedItem | ImportedItem, Field(discriminator="kind")]
    stiffness: float = quantity(
        1, low=0.1, high=10, unit="×", step=0.1, help="How stiff it stands in the wind, against its kind."
    )


# Gives the mesh of an imported item by its content hash.
ReadMesh = Callable[[str], Mesh]


def _nothing_imported(digest: str) -> Mesh:
    raise KeyError(f"the imported mesh {digest[:8]} is missing from the store")


@lru_cache(maxsize=400)
def _built(item: KitItem, variant: int, detail: int) -> Mesh:
    return checked(item.build(variant, detail))


@lru_cache(maxsize=60)
def _card(item: KitItem) -> np.ndarray | None:
    return item.card()


class Shelf:
    """Finds items by the names that mixes use.

    :param own: the site's own items. :param read: for meshes of imported ones.
    """

    def __init__(self, own: Sequence[OwnItem] = (), read: ReadMesh = _nothing_imported) -> None:
        self._own = {entry.id: entry for entry in own}
        self._read = read
        self._imported: dict[tuple[str, int], Mesh] = {}

    def __contains__(self, kind: object) -> bool:
        return kind in self._own or kind in KIT

    def item(self, kind: str) -> KitItem:
        """The item of that name.

        :raises KeyError: if there is none.
        """
        return self._own[kind].source if kind in self._own else KIT[kind](kind=kind)

    def stiffness(self, kind: str) -> float:
        """The speed of the wind at which the item leans by 45°, m/s; infinite for what does not move."""
        own = self._own.get(kind)
        return own.source.stiffness * own.stiffness if own else KIT[kind].stiffness

    def name(self, kind: str) -> str:
        """The item's name for people."""
        return self._own[kind].name if kind in self._own else KIT[kind].name

    def kinds(self) -> list[str]:
        """All names, the site's own first."""
        return [*self._own, *(str(item.model_fields["kind"].default) for item in KIT)]

    def mesh(self, kind: str, variant: int, detail: int = 0) -> Mesh:
        """The mesh of one variant at a level of detail, built once a process."""
        item = self.item(kind)
        if not isinstance(item, ImportedItem):
            return _built(item, variant, detail)
        if (item.mesh, detail) not in self._imported:
            whole = self._read(item.mesh)
            made = replace(whole, parts=np.zeros_like(whole.parts), part_names=(item.material,), colours=None)
            self._imported[item.mesh, detail] = decimated(made, (1.0, 0.3, 0.06)[detail])
        return self._imported[item.mesh, detail]

    def card(self, kind: str) -> np.ndarray | None:
        """The picture that the item's leaves are cut out of, float32 (h, w, 4)."""
        item = self.item(kind)
        return None if isinstance(item, ImportedItem) else _card(item)


SHIPPED = Shelf()


def decimated(mesh: Mesh, share: float) -> Mesh:
    """The mesh with about a share of its triangles, by collapsing the edges that matter least.

    Quadric error metrics (Garland and Heckbert, 1997), by the fast-simplification package. Meshes of a few dozen
    triangles are left as they are; colours, texture coordinates and normals are not kept.
    """
    if share >= 1 or len(mesh.faces) <= 60:
        return mesh
    goal = max(40, round(len(mesh.faces) * share))
    points, faces = fast_simplification.simplify(mesh.positions, mesh.faces, target_count=goal)
    if not len(faces):
        return mesh
    return checked(Mesh.of(points, faces, mesh.part_names[0]))
