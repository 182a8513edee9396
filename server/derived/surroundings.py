"""The land around a site, for the page."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.surroundings import goes_on_for
from cenote.signals.around import GROUND

from .answers import packed, same_key
from .graphs import graph_of, key_or_none, surface_of
from .packs.kit import TilePack
from .packs.surroundings import LandPack

router = Router(tags=["surroundings"])


class SurroundingsEntry(Schema):
    """The land around a site."""

    land: str = Field(description="Key of its triangles; empty until the ground is measured.")
    material: str
    tile: str = Field(description="Key of its material's tile.")
    size: float = Field(description="Side of that tile, metres.")
    beyond: float = Field(description="How far it goes on from the site's edge, metres.")


def _pack_of(graph: Graph) -> LandPack:
    return LandPack(surface_of(graph, GROUND).shape.coarsest_level)


def surroundings_entry(graph: Graph) -> SurroundingsEntry | None:
    """The land around a site, where there is any."""
    ground = graph.document.ground
    if not ground.goes_on:
        return None
    return SurroundingsEntry(
        land=key_or_none(graph, _pack_of(graph)),
        material=ground.material,
        tile=graph.key(TilePack(ground.material)),
        size=graph.document.material(ground.material).size,
        beyond=goes_on_for(ground),
    )


@router.get("/sites/{uuid:site_id}/surroundings", include_in_schema=False)
def get_surroundings(request: SignedInRequest, site_id: UUID, key: str = "") -> HttpResponse:
    """Triangles of the land around a site, tinted as the edge of its ground looks."""
    _, graph = graph_of(request, site_id)
    if not graph.document.ground.goes_on:
        raise Problem("The land of this site ends at its edge.", status=404)
    pack = _pack_of(graph)
    return packed(graph.get(pack), forever=same_key(key, graph.key(pack)))
