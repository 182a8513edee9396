"""The colours that placed items show, face by face and on average."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..geometry.mesh import Mesh, face_normals
from ..kit.base import CARD
from ..kit.seasons import leaves_left, season_colour, shed
from .shelves import ItemFacts, ItemsOnShelf, whole_shelf
from .site import Site
from .target import Read, Target
from .tiles import TileMean


@dataclass(frozen=True)
class ItemMesh(Target):
    """The mesh of one variant of an item as it is in the site's season: with the leaves that hang."""

    kind: str
    variant: int
    detail: int = 0

    def inputs(self, site: Site) -> Mapping[str, Any]:
        item = whole_shelf(site).item(self.kind)
        return {"shelf": ItemsOnShelf((self.kind,)), "which": (self.kind, self.variant, self.detail),
                "leaves": leaves_left(item, site.climate.season)}  # fmt: skip

    @staticmethod
    def make(read: Read) -> Mesh:
        kind, variant, detail = read.which
        return shed(read.shelf.mesh(kind, variant, detail), read.leaves, read.shelf.item(kind).leaf)


@dataclass(frozen=True)
class FaceColours(Target):
    """The mean linear colour of each face of an item's mesh in the site's season, float32 (M, 3).

    Leaves count what their card shows; what is made of a material does not change with the season.
    """

    kind: str
    variant: int
    detail: int = 0

    def inputs(self, site: Site) -> Mapping[str, Any]:
        item = whole_shelf(site).item(self.kind)
        parts = site.get(ItemFacts(self.kind)).parts
        made_of = {part: TileMean(part) for part in parts if site.has_material(part)}
        return {"mesh": ItemMesh(self.kind, self.variant, self.detail), "shelf": ItemsOnShelf((self.kind,)),
                "kind": self.kind, "season": season_colour(item, site.climate.season), "tiles": made_of}  # fmt: skip

    @staticmethod
    def make(read: Read) -> np.ndarray:
        mesh: Mesh = read.mesh
        colours = np.ones((len(mesh.positions), 3), np.float32) if mesh.colours is None else mesh.colours
        out = colours[mesh.faces].mean(1)
        card = read.shelf.card(read.kind)
        for row, part in enumerate(mesh.part_names):
            mine = mesh.parts == row
            if part in read.tiles:
                out[mine] *= read.tiles[part][:3]
                continue
            out[mine] *= read.season
            if part == CARD and card is not None:
                out[mine] *= card[card[..., 3] > 0.5][:, :3].mean(0)
        return out.astype(np.float32)


@dataclass(frozen=True)
class AverageColour(Target):
    """An item's mean colour in the site's season, over its faces by their areas, linear float64 (3,)."""

    kind: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        return {"mesh": ItemMesh(self.kind, 0), "colours": FaceColours(self.kind, 0)}

    @staticmethod
    def make(read: Read) -> np.ndarray:
        areas = face_normals(read.mesh.corners)[1].astype(float)
        return np.asarray(areas @ read.colours / max(areas.sum(), 1e-12))
