"""Dropping kit items onto a site."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..drop.colliders import Collider, ground_colliders, item_colliders, scenery_colliders
from ..drop.heap import Drop, HeapPiece
from ..drop.settle import Body, DropRefused, Watch, settle
from ..geometry.mesh import pieces, placement_angles
from ..geometry.pose import Placement
from ..kit.shelf import Shelf
from ..site.document import GROUND
from .graph import Graph
from .shelves import ItemsOnShelf, whole_shelf
from .site import Site
from .surfaces import ObjectShape, Shape

# kg/m³, by the group of an item; hollow things are taken as full, hence as light.
_DENSITY = {"stones": 2500.0, "timber": 600.0, "yard": 700.0}
_LIGHT = 250.0


@dataclass(frozen=True)
class Dropped:
    """A heap that has settled.

    :ivar pieces: in the frame of the place where it was dropped.
    :ivar lost: how many fell off the site. :ivar overlap: metres that the deepest two are inside each other.
    """

    pieces: list[HeapPiece]
    lost: int
    overlap: float


def is_solid(graph: Graph, item: str) -> bool:
    """Whether an item can fall and lie in a heap: what grows, and what is thin, cannot."""
    shelf: Shelf = graph.get(ItemsOnShelf((item,)))
    return not any(shelf.item(item).is_thin(part) for part in shelf.parts(item))


def falling(graph: Graph, drop: Drop) -> list[tuple[str, int]]:
    """What falls, one entry a piece: item and variant, all variants in turn."""
    shelf = whole_shelf(Site(graph))
    return [(share.item, k % shelf.item(share.item).variants) for share in drop.mix for k in range(share.number)]


def drop_here(graph: Graph, drop: Drop, place: Placement, without: str | None, watch: Watch) -> Dropped:
    """Let things fall onto a site.

    :param place: of the heap; they fall, in its size, over a disc about it, and their poses are given in its frame.
    :param without: id of an object that is not there, such as the heap that this one takes the place of.
    :param watch: see :data:`cenote.drop.settle.Watch`; rows of :func:`falling`, poses in the world. It may raise to stop.
    :raises DropRefused: if it cannot be done; the message says why.
    """
    wanted, names = falling(graph, drop), whole_shelf(Site(graph))
    shelf: Shelf = graph.get(ItemsOnShelf(tuple(sorted({item for item, _ in wanted}))))
    bodies: dict[tuple[str, int], Body] = {}
    for item, variant in wanted:
        if (item, variant) not in bodies:
            if not is_solid(graph, item):
                raise DropRefused(f"“{names.title(item)}” is not solid; scatter it instead.")
            mesh = shelf.mesh(item, variant).moved(np.diag([place.size, place.size, place.size, 1.0]))
            if len(mesh.faces) > 20_000:
                raise DropRefused(f"“{names.title(item)}” has too many triangles to fall; set single ones down.")
            density = _DENSITY.get(shelf.item(item).group, _LIGHT)
            bodies[item, variant] = Body(item_colliders(mesh), density)
    centre = np.array(place.position)
    reach = drop.radius + 3.0 * max(place.size, 1.0)
    scenery: list[Collider] = []
    for id in graph.document.surface_ids():
        if id == without:
            continue
        surface: Shape = graph.get(ObjectShape(id))
        corners = surface.corners - centre.astype(np.float32)
        low, high = np.array([-reach, -15, -reach]), np.array([reach, 15 + drop.height, reach])
        if id == GROUND:
            scenery += ground_colliders(corners, low, high)
        else:
            scenery += scenery_colliders(corners, pieces(surface.mesh), low, high)

    def seen(rows: Sequence[int], positions: np.ndarray, turns: np.ndarray) -> None:
        watch(rows, positions + centre, turns)

    rest = settle([bodies[one] for one in wanted], scenery, drop, seen)
    back = place.matrix()[:3, :3].T
    out = []
    for (item, variant), position, rotation, kept in zip(
        wanted, rest.positions, rest.rotations, rest.kept, strict=True
    ):
        if kept:
            turn, tip, roll = placement_angles(back @ rotation)
            x, y, z = (back @ position / place.size).round(5).tolist()
            out.append(HeapPiece(item=item, variant=variant, position=(x, y, z),
                                 turn=round(turn, 4), tip=round(tip, 4), roll=round(roll, 4)))  # fmt: skip
    if not out:
        raise DropRefused("All of it fell off the site. Move the area onto the ground.")
    return Dropped(out, int((~rest.kept).sum()), rest.overlap)
