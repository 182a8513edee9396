"""What placed items look like: packs of their meshes, and the mean colours of their faces."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..geometry.mesh import Mesh, indexed
from ..kit.base import CARD
from ..kit.shelf import ImportedItem, Shelf
from ..scatter.instances import item_columns
from ..site.document import SiteDocument
from ..weather.compose import LaidTile
from .cache import Cache, key


class Items:
    """The items that one site can place.

    :param shelf: finds them by name. :param tile: gives a baked material. :param tile_name: gives its key.
    """

    def __init__(
        self,
        document: SiteDocument,
        cache: Cache,
        shelf: Shelf,
        tile: Callable[[str], LaidTile],
        tile_name: Callable[[str], str],
    ) -> None:
        self.document, self.cache, self.shelf = document, cache, shelf
        self._tile, self._tile_name = tile, tile_name

    def name(self, kind: str) -> str:
        """The key of an item's meshes and pictures: whatever changes them changes it."""
        item = self.shelf.item(kind)
        made_of = self._tile_name(item.material) if isinstance(item, ImportedItem) else ""
        return key("item", item.model_dump(mode="json"), made_of)

    def tile_size(self, part: str) -> float | None:
        """The side in metres of the tile that a part is made of; None where it is of no material."""
        return self.document.material(part).size if self.document.has_material(part) else None

    def pack(self, kind: str, detail: int) -> dict[str, np.ndarray]:
        """All variants of an item at a level of detail, kept for all processes.

        :returns: for each variant ``{variant}/position``, normal, colour, uv and index as drawing wants them, and
            ``{variant}/groups`` int32 (G, 3): row of :meth:`parts`, first index, number of indices.
        """

        def make() -> dict[str, np.ndarray]:
            parts = self.parts(kind)
            out: dict[str, np.ndarray] = {}
            for variant in range(self.shelf.item(kind).variants):
                columns, groups = item_columns(self.shelf.mesh(kind, variant, detail), self.tile_size)
                rows, index = indexed(columns)
                out |= {f"{variant}/{name}": array for name, array in (rows | {"index": index}).items()}
                table = [[parts.index(part), start, count] for part, start, count in groups]
                out[f"{variant}/groups"] = np.array(table, np.int32)
            return out

        return self.cache.arrays(key("item pack", self.name(kind), detail), make)

    def parts(self, kind: str) -> list[str]:
        """The names of an item's parts over all its variants, in order of their first use."""
        variants = range(self.shelf.item(kind).variants)
        return list(dict.fromkeys(part for variant in variants for part in self.shelf.mesh(kind, variant).part_names))

    def looks(self, kind: str, mesh: Mesh) -> np.ndarray:
        """The mean linear colour of each face of an item's mesh, float32 (M, 3); leaves count what their card shows."""
        colours = np.ones((len(mesh.positions), 3), np.float32) if mesh.colours is None else mesh.colours
        out = colours[mesh.faces].mean(1)
        for row, part in enumerate(mesh.part_names):
            if part == CARD:
                card = self.shelf.card(kind)
                if card is not None:
                    out[mesh.parts == row] *= card[card[..., 3] > 0.5][:, :3].mean(0)
            elif self.document.has_material(part):
                out[mesh.parts == row] *= self._tile(part).pixels[..., :3].mean((0, 1))
        return out.astype(np.float32)
