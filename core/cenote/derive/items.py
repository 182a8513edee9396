"""What placed items look like: packs of their meshes, far stand-ins, and what season and wind do to them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..colour import srgb_bytes
from ..geometry.mesh import Mesh, indexed
from ..kit.base import DETAILS, KitItem
from ..kit.seasons import leaves_left, season_colour, shed
from ..kit.shelf import Shelf
from ..pictures.stand_in import stand_ins
from ..scatter.instances import item_columns
from ..scatter.wind import Sway
from .colours import FaceColours, ItemMesh
from .shelves import Facts, ItemFacts, ItemsOnShelf, whole_shelf
from .site import Site
from .target import Read, Target
from .tiles import MaterialTile

if TYPE_CHECKING:
    from ..scatter.layer import Scatter
    from .graph import Graph

# From how many triangles of its simplest level of detail an item is worth a stand-in of two or four: what grows, and what is
# solid, which shows its flatness sooner.
_WORTH = {True: 20, False: 150}
# Stand-ins are made for so many shares of the leaves.
_LEAF_STEPS = 4


@dataclass(frozen=True)
class ItemLook:
    """An item as the season and the wind have it.

    :ivar title: its name for people. :ivar parts: names of its parts over all variants. :ivar leaves: share of its
        leaves that hang, in [0, 1]. :ivar leaf: faces of one leaf. :ivar colour: the season's factor on what is of no
        material, linear float64 (3,). :ivar stiffness: the wind at which it leans by 45°, m/s. :ivar height: of its
        tallest variant at size 1, metres. :ivar tile_sizes: side in metres of the tile that a part is made of, by part.
    """

    title: str
    grows: bool
    litter: bool
    roughness: float
    variants: int
    parts: tuple[str, ...]
    leaves: float
    leaf: int
    colour: np.ndarray
    stiffness: float
    height: float
    tile_sizes: Mapping[str, float]

    def tile_size(self, part: str) -> float | None:
        """The side in metres of the tile that a part is made of; None where it is of no material."""
        return self.tile_sizes.get(part)


@dataclass(frozen=True)
class LookOfItem(Target):
    """An item as the season and the wind have it: :class:`ItemLook`."""

    kind: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        shelf = whole_shelf(site)
        item, season = shelf.item(self.kind), site.climate.season
        return {
            "item": item, "facts": ItemFacts(self.kind), "title": shelf.title(self.kind),
            "leaves": leaves_left(item, season), "colour": season_colour(item, season),
            "stiffness": float(shelf.stiffness(self.kind)), "sizes": _tile_sizes(site, self.kind),
        }  # fmt: skip

    @staticmethod
    def make(read: Read) -> ItemLook:
        item: KitItem = read.item
        facts: Facts = read.facts
        return ItemLook(
            read.title, item.grows, item.litter, item.roughness, item.variants, facts.parts, read.leaves,
            item.leaf, read.colour, read.stiffness, facts.height, read.sizes,
        )  # fmt: skip


def _tile_sizes(site: Site, kind: str) -> dict[str, float]:
    parts = site.get(ItemFacts(kind)).parts
    return {part: float(site.material(part).size) for part in parts if site.has_material(part)}


def sway_of(graph: Graph, kind: str) -> Sway:
    """The site's wind as an item meets it."""
    look: ItemLook = graph.get(LookOfItem(kind))
    return Sway(graph.document.wind, look.stiffness, look.height)


def drawn(
    mesh: Mesh, parts: list[str], tile_size: Callable[[str], float | None], variant: int
) -> dict[str, np.ndarray]:
    """A variant as drawing wants it: ``{variant}/position``, normal, colour, uv and index, and ``{variant}/groups`` int32
    (G, 3): row of ``parts``, first index, number of indices."""
    columns, groups = item_columns(mesh, tile_size)
    rows, index = indexed(columns)
    out = {f"{variant}/{name}": array for name, array in (rows | {"index": index}).items()}
    out[f"{variant}/groups"] = np.array([[parts.index(part), start, count] for part, start, count in groups], np.int32)
    return out


@dataclass(frozen=True)
class ItemPack(Target):
    """All variants of an item at a level of detail, each as :func:`drawn` has it."""

    kind: str
    detail: int
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"kind": self.kind, "detail": self.detail, "shelf": ItemsOnShelf((self.kind,)),
                "sizes": _tile_sizes(site, self.kind)}  # fmt: skip

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        shelf: Shelf = read.shelf
        parts = shelf.parts(read.kind)
        out: dict[str, np.ndarray] = {}
        for variant in range(shelf.item(read.kind).variants):
            out |= drawn(shelf.mesh(read.kind, variant, read.detail), parts, read.sizes.get, variant)
        return out


@dataclass(frozen=True)
class StandIn(Target):
    """What an item is drawn as far away, as :class:`ItemPack` has it, and ``picture``, uint8 (h, w, 4).

    Nothing at all where its simplest level of detail is as simple already.
    """

    kind: str
    keep = "store"

    def inputs(self, site: Site) -> Mapping[str, Any]:
        item = whole_shelf(site).item(self.kind)
        parts = site.get(ItemFacts(self.kind)).parts
        share = float(np.ceil(leaves_left(item, site.climate.season) * _LEAF_STEPS) / _LEAF_STEPS)
        made_of = {part: MaterialTile(part) for part in parts if site.has_material(part)}
        return {"kind": self.kind, "shelf": ItemsOnShelf((self.kind,)), "share": share, "tiles": made_of,
                "sizes": _tile_sizes(site, self.kind)}  # fmt: skip

    @staticmethod
    def make(read: Read) -> dict[str, np.ndarray]:
        shelf: Shelf = read.shelf
        item, parts = shelf.item(read.kind), shelf.parts(read.kind)
        variants = range(item.variants)
        if max(len(shelf.mesh(read.kind, row, DETAILS[-1]).faces) for row in variants) < _WORTH[item.grows]:
            return {}
        whole = [shed(shelf.mesh(read.kind, row), read.share, item.leaf) for row in variants]
        meshes, picture = stand_ins(whole, shelf.card(read.kind), read.tiles)
        out: dict[str, np.ndarray] = {"picture": srgb_bytes(picture)}
        for variant, mesh in enumerate(meshes):
            rows, index = indexed(item_columns(mesh, read.sizes.get)[0])
            out |= {f"{variant}/{name}": array for name, array in (rows | {"index": index}).items()}
            out[f"{variant}/groups"] = np.array([[len(parts), 0, len(index)]], np.int32)
        return out


class PlacedLooks:
    """What items look like on a site, for :mod:`cenote.scatter.instances`."""

    def __init__(self, graph: Graph) -> None:
        self._graph = graph

    def mesh(self, kind: str, variant: int, detail: int = 0) -> Mesh:
        """The mesh of one variant in the site's season."""
        mesh: Mesh = self._graph.get(ItemMesh(kind, variant, detail))
        return mesh

    def colours(self, kind: str, variant: int, detail: int = 0) -> np.ndarray:
        """The mean linear colour of each of its faces, float32 (M, 3)."""
        colours: np.ndarray = self._graph.get(FaceColours(kind, variant, detail))
        return colours

    def sway(self, kind: str) -> Sway:
        """How the wind bends it."""
        return sway_of(self._graph, kind)


def shown_scatters(graph: Graph) -> list[Scatter]:
    """Scatter layers that are shown, with a surface that is."""
    surfaces = set(graph.document.surface_ids())
    return [layer for layer in graph.document.planting if layer.shown and surfaces.intersection(layer.surfaces)]


def placed_items(layers: Iterable[Scatter]) -> list[str]:
    """The kit items that layers place, in order of first use."""
    return list(dict.fromkeys(item for layer in layers for item in layer.kinds()))
