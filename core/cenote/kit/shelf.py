"""The items that a site can place: those that come with the product, and its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.mesh import Mesh, checked
from ..geometry.simplify import decimated
from ..materials.own_textures import OwnTextures
from ..parameters import Declared, quantity, switch
from .base import KIT, Group, KitItem
from .textured import in_one_picture, simpler

if TYPE_CHECKING:
    ShippedItem = KitItem
else:
    ShippedItem = KIT.union()


# Of the triangles of a brought mesh, how many each level of detail has.
_SHARES = (1.0, 0.3, 0.06)
# The wind that leans a brought plant by 45°, m/s.
_SHRUB = 16.0


class ImportedItem(KitItem):
    """An item from a file: of a material of the site, or in its own textures."""

    kind: Literal["imported_item"] = "imported_item"
    title: ClassVar[str] = "Imported"
    group: ClassVar[Group] = "yard"
    variants: ClassVar[int] = 1
    mesh: str = Field(
        pattern=r"^[0-9a-f]{64}$", description="Content hash of the stored mesh.", json_schema_extra={"brought": "mesh"}
    )
    textures: str = Field(
        "",
        pattern=r"^([0-9a-f]{64})?$",
        description="Content hash of the textures that came with it, which it then shows; none where it is empty.",
        json_schema_extra={"brought": "textures"},
    )
    lives: bool = switch(
        False, help="Whether it is a plant: the season colours it, the wind bends it, light comes through it."
    )
    file_name: str = Field("", max_length=200)
    material: str = Field("planed_timber", description="What it is made of.", json_schema_extra={"picks": "material"})

    @property
    def grows(self) -> bool:  # type: ignore[override]
        """Whether it is a plant."""
        return self.lives

    @property
    def stiffness(self) -> float:  # type: ignore[override]
        """As stiff as a shrub, where it is a plant, m/s."""
        return _SHRUB if self.lives else float("inf")

    def is_thin(self, part: str) -> bool:
        """Whether light comes through: of a plant alone, though all of it is cut out of a picture."""
        return self.lives


class OwnItem(Declared):
    """An item of a site's own: one of the product's with other parameters, or one from a file."""

    id: str = Field(pattern=r"^own-[a-z0-9-]{1,36}$")
    name: str = Field("Item", min_length=1, max_length=80)
    source: Annotated[ShippedItem | ImportedItem, Field(discriminator="kind")]
    stiffness: float = quantity(
        1, low=0.1, high=10, unit="×", step=0.1, help="How stiff it stands in the wind, against its kind."
    )


@lru_cache(maxsize=400)
def _built(item: KitItem, variant: int, detail: int) -> Mesh:
    return checked(item.build(variant, detail))


@lru_cache(maxsize=60)
def _card(item: KitItem) -> np.ndarray | None:
    return item.card()


class Shelf:
    """Finds items by the kinds that mixes name.

    :param own: the site's own items. :param imported: meshes of items from files, by the hash of their content.
    """

    def __init__(
        self,
        own: Sequence[OwnItem] = (),
        imported: Mapping[str, Mesh] | None = None,
        textures: Mapping[str, OwnTextures] | None = None,
    ) -> None:
        self._own = {entry.id: entry for entry in own}
        self._items = {id: entry.source for id, entry in self._own.items()}
        self._imported, self._textures = imported or {}, textures or {}
        self._pictured: dict[tuple[str, str], tuple[Mesh, np.ndarray]] = {}
        self._simplified: dict[tuple[str, str, int], Mesh] = {}
        self._extents: dict[tuple[str, int], tuple[float, float]] = {}

    @staticmethod
    def of(
        items: Mapping[str, KitItem], imported: Mapping[str, Mesh], textures: Mapping[str, OwnTextures] | None = None
    ) -> Shelf:
        """A shelf of some items by kind, whatever they are called by people."""
        shelf = Shelf((), imported, textures)
        shelf._items = dict(items)
        return shelf

    def __contains__(self, kind: object) -> bool:
        return kind in self._items or kind in KIT

    def item(self, kind: str) -> KitItem:
        """The item of that kind.

        :raises KeyError: if there is none.
        """
        return self._items[kind] if kind in self._items else KIT[kind](kind=kind)

    def stiffness(self, kind: str) -> float:
        """The speed of the wind at which the item leans by 45°, m/s; infinite for what does not move."""
        own = self._own.get(kind)
        return own.source.stiffness * own.stiffness if own else KIT[kind].stiffness

    def title(self, kind: str) -> str:
        """What people call the item: by the name that a user gave it, or by the title of its kind."""
        return self._own[kind].name if kind in self._own else KIT[kind].title

    def kinds(self) -> list[str]:
        """All kinds, the site's own first."""
        return [*self._own, *(str(item.model_fields["kind"].default) for item in KIT)]

    def mesh(self, kind: str, variant: int, detail: int = 0) -> Mesh:
        """The mesh of one variant at a level of detail, built once a process."""
        item = self.item(kind)
        if not isinstance(item, ImportedItem):
            return _built(item, variant, detail)
        pictured = self._in_picture(item)
        at = item.mesh, item.textures if pictured else item.material, detail
        if at not in self._simplified:
            if pictured:
                self._simplified[at] = checked(simpler(pictured[0], _SHARES[detail]))
                return self._simplified[at]
            whole = self._brought(item)
            # Its material is laid on it as on all that is made of it, whatever texture coordinates came along.
            made = replace(whole, parts=np.zeros_like(whole.parts), part_names=(item.material,), colours=None, uv=None)
            self._simplified[at] = decimated(made, _SHARES[detail])
        return self._simplified[at]

    def _brought(self, item: ImportedItem) -> Mesh:
        if item.mesh not in self._imported:
            raise KeyError(f"the imported mesh {item.mesh[:8]} is missing from the store")
        return self._imported[item.mesh]

    def _in_picture(self, item: ImportedItem) -> tuple[Mesh, np.ndarray] | None:
        """An item from a file in its own textures, with the picture that these lie in; None where it has none, or they are lost."""
        if item.textures not in self._textures:
            return None
        at = item.mesh, item.textures
        if at not in self._pictured:
            self._pictured[at] = in_one_picture(self._brought(item), self._textures[item.textures])
        return self._pictured[at]

    def extent(self, kind: str, variant: int) -> tuple[float, float]:
        """Radius and height of one variant at size 1, metres."""
        at = kind, variant
        if at not in self._extents:
            low, high = self.mesh(kind, variant).bounds
            self._extents[at] = float(max(-low[0], high[0], -low[2], high[2])), float(high[1])
        return self._extents[at]

    def parts(self, kind: str) -> list[str]:
        """The names of an item's parts over all its variants, in order of their first use."""
        variants = range(self.item(kind).variants)
        return list(dict.fromkeys(part for variant in variants for part in self.mesh(kind, variant).part_names))

    def card(self, kind: str) -> np.ndarray | None:
        """The picture that the item's leaves are cut out of, float32 (h, w, 4)."""
        item = self.item(kind)
        if isinstance(item, ImportedItem):
            pictured = self._in_picture(item)
            return pictured[1] if pictured else None
        return _card(item)


SHIPPED = Shelf()
