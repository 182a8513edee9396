"""What keeps rain and snow off a site, for the page."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router

from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.shelter import Shelter, Sheltered

from .answers import packed, same_key
from .graphs import graph_of, key_or_none

router = Router(tags=["shelter"])


def _shelter_of(graph: Graph) -> Shelter:
    wind = graph.document.wind
    return Shelter(wind.bearing, wind.strength)


def shelter_key(graph: Graph) -> str:
    """Key of what keeps rain off under the site's wind; empty until its objects are there."""
    return key_or_none(graph, _shelter_of(graph))


@router.get("/sites/{uuid:site_id}/shelter", include_in_schema=False)
def get_shelter(request: SignedInRequest, site_id: UUID, key: str = "") -> HttpResponse:
    """Above what height rain falls freely, from place to place, and the direction that it comes from."""
    _, graph = graph_of(request, site_id)
    target = _shelter_of(graph)
    found: Sheltered = graph.get(target)
    meta = {"low": found.low.tolist(), "cell": found.cell, "source": found.source.tolist()}
    return packed({"tops": found.tops}, meta, forever=same_key(key, graph.key(target)))
