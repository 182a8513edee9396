"""The meshes of objects, each in its own frame with its size applied."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from ..geometry.ground import ground_mesh, height_field
from ..geometry.mesh import Mesh, MeshError, checked, join
from ..geometry.repeat import copied
from ..signals.around import GROUND
from .ground import GroundHeights
from .shelves import ItemsOnShelf
from .site import Site
from .sources import ImportedMesh
from .target import Read, Target

if TYPE_CHECKING:
    from ..kit.shelf import Shelf

# Triangles of one object.
MOST_FACES = 2_000_000


@dataclass(frozen=True)
class ObjectMesh(Target):
    """The mesh of an object, or of the ground, whose only part is called after it."""

    id: str

    def inputs(self, site: Site) -> Mapping[str, Any]:
        if self.id == GROUND:
            ground = site.ground
            return {"ground": (ground.size, ground.apart), "heights": GroundHeights()}
        structure = site.structure(self.id)
        source, repeat = structure.source, structure.repeat
        copies = repeat.number > 1 or repeat.mirror != "none" or bool(repeat.path)
        given: dict[str, Any] = {"ground": None, "size": structure.placement.size, "maker": None, "imported": None,
                                 "pieces": None, "shelf": None, "repeat": repeat if copies else None}  # fmt: skip
        if source.kind == "made":
            return given | {"maker": source.maker}
        if source.kind == "imported":
            return given | {"imported": ImportedMesh(source.mesh)}
        if source.kind == "kit_piece":
            return given | {
                "pieces": ((source.item, source.variant, None),), "shelf": ItemsOnShelf((source.item,))
            }  # fmt: skip
        pieces = tuple((piece.item, piece.variant, piece.matrix()) for piece in source.pieces)
        return given | {"pieces": pieces, "shelf": ItemsOnShelf(tuple(sorted({item for item, _, _ in pieces})))}

    @staticmethod
    def make(read: Read) -> Mesh:
        if read.ground is not None:
            return checked(ground_mesh(*height_field(*read.ground), read.heights.heights, GROUND))
        if read.maker is not None:
            mesh = read.maker.build()
        elif read.imported is not None:
            mesh = read.imported
        else:
            bare = [_bare(read.shelf, item, variant) for item, variant, _ in read.pieces]
            placed = [one if at is None else one.moved(at) for one, (_, _, at) in zip(bare, read.pieces, strict=True)]
            mesh = placed[0] if len(placed) == 1 and read.pieces[0][2] is None else join(placed)
        mesh = mesh.moved(np.diag([read.size, read.size, read.size, 1.0]))
        if read.repeat is not None:
            mesh = copied(mesh, read.repeat.matrices(), read.repeat.mirror)
        if len(mesh.faces) > MOST_FACES:
            raise MeshError(f"{len(mesh.faces) / 1e6:.1f} million triangles; take fewer copies")
        return checked(mesh)


def _bare(shelf: Shelf, item: str, variant: int) -> Mesh:
    """The mesh of a kit item as an object of its own, which has a layout and colours of its own."""
    mesh = shelf.mesh(item, variant % shelf.item(item).variants)
    return replace(mesh, colours=None, uv=None, normals=None)
