"""What scatter layers place, and what covers lie on it."""

from __future__ import annotations

from dataclasses import asdict
from uuid import UUID

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from cenote.derive.coats import CoatLooks
from cenote.derive.graph import Graph
from cenote.formats.pack import pack
from config.security import SignedInRequest

from .answers import pack_response, packed, same_key
from .graphs import graph_of, scatter_of
from .packs.planting import CoatsPack, PlacementsPack

router = Router(tags=["scatters"])


class CoatEntry(Schema):
    """A cover as placed items have it."""

    cover: str
    strength: float = Field(description="Factor on each item's mask.")
    colour: list[float] = Field(description="Linear.")
    opacity: float
    soak: float = Field(description="How far it darkens what is below.")
    above: float = Field(description="1 where it lies on what faces up alone, 0 where it is all over.")


def coat_entries(graph: Graph) -> list[CoatEntry]:
    """The covers that lie on placed items."""
    return [CoatEntry(**asdict(coat) | {"colour": list(coat.colour)}) for coat in graph.get(CoatLooks())]


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/placements", include_in_schema=False)
def get_placements(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """What a scatter layer places."""
    _, graph = graph_of(request, site_id)
    target = PlacementsPack(scatter_of(graph, layer_id).id)
    arrays, meta = graph.get(target)
    return pack_response(pack(arrays, meta), forever=same_key(key, graph.key(target)))


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/coats", include_in_schema=False)
def get_coats(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """The masks of covers at a scatter layer's items."""
    _, graph = graph_of(request, site_id)
    target = CoatsPack(scatter_of(graph, layer_id).id)
    arrays = graph.get(target)
    return packed(arrays, forever=same_key(key, graph.key(target)))
