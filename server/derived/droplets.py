"""Drops of water on surfaces, for the page."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.droplets import LyingDrops, expected_drops, wet_surfaces
from cenote.derive.graph import Graph
from cenote.droplets.drops import Drops
from cenote.droplets.shaping import triangles_of

from .answers import packed, same_key
from .graphs import graph_of, key_or_none
from .packs.droplets import DropletPack

router = Router(tags=["droplets"])


class DropletEntry(Schema):
    """Drops of a layer on a surface."""

    layer: str
    surface: str
    mesh: str = Field(description="Key of their mesh; empty until what tells where they are wanted is measured.")
    expected: int = Field(description="About how many come down on it, before any touch.")


class DropletCost(Schema):
    """What the drops of a layer come to on a surface."""

    surface: str
    drops: int
    volume: float = Field(description="All of them together, millilitres.")
    largest: float = Field(description="The widest of them, millimetres.")
    triangles: int = Field(description="In the view.")
    still: int = Field(description="Triangles in stills and files.")


def droplet_entries(graph: Graph) -> list[DropletEntry]:
    """The drops of a site. Those whose masks are not measured have no key yet."""
    return [
        DropletEntry(layer=layer.id, surface=id, mesh=key_or_none(graph, DropletPack(layer.id, id)), expected=expected_drops(graph, layer, id))
        for layer, id in wet_surfaces(graph)
    ]  # fmt: skip


def _asked(graph: Graph, layer_id: str) -> list[str]:
    found = [id for layer, id in wet_surfaces(graph) if layer.id == layer_id]
    if not found:
        raise Problem(f"No layer of drops “{layer_id}” lies on anything that is shown.", status=404)
    return found


@router.get("/sites/{uuid:site_id}/droplets/{layer_id}/on/{surface_id}", include_in_schema=False)
def get_droplets(
    request: SignedInRequest, site_id: UUID, layer_id: str, surface_id: str, key: str = ""
) -> HttpResponse:
    """The mesh of a layer's drops on a surface."""
    _, graph = graph_of(request, site_id)
    if surface_id not in _asked(graph, layer_id):
        raise Problem(f"The layer has no drops on “{surface_id}”.", status=404)
    target = DropletPack(layer_id, surface_id)
    arrays, drops = graph.get(target), graph.get(LyingDrops(layer_id, surface_id))
    return packed(arrays, {"widest": _widest(drops)}, forever=same_key(key, graph.key(target)))


def _widest(drops: Drops) -> float:
    """How wide the widest of them is, metres."""
    return float(2 * drops.radii.max()) if len(drops) else 0.0


@router.get("/sites/{uuid:site_id}/droplets/{layer_id}/cost", response=list[DropletCost])
def get_droplet_cost(request: SignedInRequest, site_id: UUID, layer_id: str) -> list[DropletCost]:
    """What a layer of drops comes to on each of its surfaces, as far as that is measured."""
    _, graph = graph_of(request, site_id)
    out = []
    for id in _asked(graph, layer_id):
        if not key_or_none(graph, DropletPack(layer_id, id)):
            continue
        drops: Drops = graph.get(LyingDrops(layer_id, id))
        out.append(DropletCost(surface=id, drops=len(drops), volume=float(drops.volumes.sum() * 1e6), largest=1000 * _widest(drops),
                               triangles=triangles_of(drops, False), still=triangles_of(drops, True)))  # fmt: skip
    return out
