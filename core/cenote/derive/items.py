"""What placed items look like: packs of their meshes, the colours of their faces, and what season and wind do to them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..geometry.mesh import Mesh, indexed
from ..kit.base import CARD, DETAILS
from ..kit.seasons import leaves_left, season_colour, shed
from ..kit.shelf import ImportedItem, Shelf
from ..render.stand_in import stand_ins
from ..scatter.instances import item_columns
from ..scatter.wind import Sway
from ..site.document import SiteDocument
from ..weather.compose import LaidTile, encoded
from .cache import Cache, key

# From how many triangles of its simplest level of detail an item is worth a stand-in of two or four: what grows, and what is
# solid, which shows its flatness sooner.
_WORTH = {True: 20, False: 150}
# Stand-ins are made for so many shares of the leaves.
_LEAF_STEPS = 4


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

    def stand_in(self, kind: str) -> dict[str, np.ndarray] | None:
        """What an item is drawn as far away; None where its simplest level of detail is as simple already.

        :returns: for each variant as :meth:`pack` has it, and ``picture``, uint8 (h, w, 4).
        """
        item = self.shelf.item(kind)
        simplest = max(len(self.shelf.mesh(kind, variant, DETAILS[-1]).faces) for variant in range(item.variants))
        if simplest < _WORTH[item.grows]:
            return None
        share = np.ceil(self.leaves(kind) * _LEAF_STEPS) / _LEAF_STEPS

        def make() -> dict[str, np.ndarray]:
            whole = [shed(self.shelf.mesh(kind, variant), share, item.leaf) for variant in range(item.variants)]
            tiles = {part: self._tile(part) for part in self.parts(kind) if self.document.has_material(part)}
            meshes, picture = stand_ins(whole, self.shelf.card(kind), tiles)
            out: dict[str, np.ndarray] = {"picture": encoded(picture)}
            for variant, mesh in enumerate(meshes):
                rows, index = indexed(item_columns(mesh, self.tile_size)[0])
                out |= {f"{variant}/{name}": array for name, array in (rows | {"index": index}).items()}
                out[f"{variant}/groups"] = np.array([[len(self.parts(kind)), 0, len(index)]], np.int32)
            return out

        tiles_of = [self._tile_name(part) for part in self.parts(kind) if self.document.has_material(part)]
        return self.cache.arrays(key("stand-in", self.name(kind), share, tiles_of), make)

    def look_name(self, kind: str) -> str:
        """The key of all that an item is drawn as: also the leaves that its stand-in has."""
        return f"{self.name(kind)} {np.ceil(self.leaves(kind) * _LEAF_STEPS)}"

    def mesh(self, kind: str, variant: int, detail: int = 0) -> Mesh:
        """The mesh of one variant as it is in the site's season: with the leaves that hang."""
        return shed(self.shelf.mesh(kind, variant, detail), self.leaves(kind), self.shelf.item(kind).leaf)

    def leaves(self, kind: str) -> float:
        """The share of an item's leaves that hang in the site's season, in [0, 1]."""
        return leaves_left(self.shelf.item(kind), self.document.climate.season)

    def season_colour(self, kind: str) -> np.ndarray:
        """The season's factor on the colour of what grows of an item, linear float64 (3,)."""
        return season_colour(self.shelf.item(kind), self.document.climate.season)

    def height(self, kind: str) -> float:
        """The height of an item at size 1, that of its tallest variant, metres."""
        return max(float(self.shelf.mesh(kind, row).bounds[1, 1]) for row in range(self.shelf.item(kind).variants))

    def sway(self, kind: str) -> Sway:
        """The site's wind as an item meets it."""
        return Sway(self.document.wind, self.shelf.stiffness(kind), self.height(kind))

    def parts(self, kind: str) -> list[str]:
        """The names of an item's parts over all its variants, in order of their first use."""
        variants = range(self.shelf.item(kind).variants)
        return list(dict.fromkeys(part for variant in variants for part in self.shelf.mesh(kind, variant).part_names))

    def looks(self, kind: str, mesh: Mesh) -> np.ndarray:
        """The mean linear colour of each face of an item's mesh in the site's season, float32 (M, 3).

        Leaves count what their card shows; what is made of a material does not change with the season.
        """
        colours = np.ones((len(mesh.positions), 3), np.float32) if mesh.colours is None else mesh.colours
        out = colours[mesh.faces].mean(1)
        season = self.season_colour(kind)
        for row, part in enumerate(mesh.part_names):
            if not self.document.has_material(part):
                out[mesh.parts == row] *= season
            if part == CARD:
                card = self.shelf.card(kind)
                if card is not None:
                    out[mesh.parts == row] *= card[card[..., 3] > 0.5][:, :3].mean(0)
            elif self.document.has_material(part):
                out[mesh.parts == row] *= self._tile(part).pixels[..., :3].mean((0, 1))
        return out.astype(np.float32)
