"""What is asked of a site at once: what must be there before it can be shown whole, or handed on."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

import numpy as np

from ..masks.where import Where
from ..signals.around import GROUND
from .decals import decals_on
from .droplets import fields_of_droplets
from .fields import OCCLUSION, MeasuredField
from .grass import fields_of_grass
from .items import shown_scatters
from .maps import composed_materials, layers_on, plain_of
from .masks import Mask
from .planting import signals_of
from .scene import around_site
from .site import Site
from .surfaces import ObjectShape
from .target import Target
from .tiles import laid

if TYPE_CHECKING:
    # It says who asks, and is no part of what is made.
    from .graph import Graph


def fields_of_maps(graph: Graph, ids: Iterable[str]) -> list[Target]:
    """What the final maps of surfaces are measured by."""
    site = Site(graph)
    out: list[Target] = []
    for id in ids:
        out.append(MeasuredField(id, OCCLUSION))
        out += [Mask(id, plain_of(site, layer), 0) for layer in layers_on(site, id)]
        out += [Mask(id, one.where, 0) for over in (False, True) for one in decals_on(site, id, over) if one.where]
    return out


def fields_of_scatter(graph: Graph, layer: str) -> list[Target]:
    """What a scatter layer is placed by, but for what it places."""
    site = Site(graph)
    found = next(one for one in site.planting if one.id == layer)
    shown = site.surface_ids()
    asked = [signal for signal in signals_of(found) if signal.on_cells]
    return [MeasuredField(id, signal) for id in found.surfaces if id in shown for signal in asked]


def fields_of_mask(ids: Iterable[str], where: Where) -> list[Target]:
    """What a mask on surfaces is measured by."""
    return [Mask(id, where.plain, 0) for id in ids]


def near_tiles(graph: Graph) -> list[Target]:
    """The tiles of materials, finer than usual, that patches of the surfaces are composed of when they are looked at from near."""

    def found(at: Site) -> list[Target]:
        out: dict[Target, None] = {}
        for id in at.surface_ids():
            shape = at.get(ObjectShape(id))
            for level in range(1, shape.finest_level + 1):
                for kind in composed_materials(at, id):
                    tile = laid(kind, shape.atlas.cell / 2**level).inputs(at)["tile"]
                    if tile.finer:
                        out[tile] = None
        return list(out)

    return Site(graph).once("near tiles", found)


def nearest_first(graph: Graph) -> list[str]:
    """All surfaces, those first that come nearest to a shot, the ground before them: as somebody who waits would have it."""

    def found(at: Site) -> list[str]:
        around, ids = around_site(at), at.surface_ids()
        eyes = np.array([shot.position for shot in at.shots], float).reshape(-1, 3)
        if not len(eyes):
            return list(ids)
        low, high = around.low[: len(ids), None], around.high[: len(ids), None]
        away = np.linalg.norm(np.maximum(np.maximum(low - eyes, eyes - high), 0), axis=2).min(1)
        away[ids.index(GROUND)] = -1
        return [ids[row] for row in np.argsort(away, kind="stable")]

    return Site(graph).once("nearest first", found)


def fields_of_site(graph: Graph) -> list[Target]:
    """What a whole site is measured by: the maps of all surfaces, and what its scatter layers are placed by."""
    out = fields_of_maps(graph, nearest_first(graph))
    for layer in shown_scatters(graph):
        out += fields_of_scatter(graph, layer.id)
    return out + fields_of_grass(graph) + fields_of_droplets(graph)
