"""Where the sun shines through the air of a site, for the page to show it in fog."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.sunlit import sunlit_of

from .answers import packed, same_key
from .graphs import graph_of, key_or_none
from .packs.sunlit import SunlitPack

router = Router(tags=["sunlit"])


def _pack_of(graph: Graph) -> SunlitPack | None:
    found = sunlit_of(graph)
    return None if found is None else SunlitPack(found.towards)


def sunlit_key(graph: Graph) -> str:
    """Key of where the sun shines through the fog; empty where there is none, and until all that stands and grows is there."""
    pack = _pack_of(graph)
    return key_or_none(graph, pack) if pack else ""


@router.get("/sites/{uuid:site_id}/sunlit", include_in_schema=False)
def get_sunlit(request: SignedInRequest, site_id: UUID, key: str = "") -> HttpResponse:
    """The share of the sun's light that comes to each cell of the air, and where the cells lie."""
    _, graph = graph_of(request, site_id)
    pack = _pack_of(graph)
    if pack is None:
        raise Problem("There is no fog that the sun shines through.", status=404)
    arrays = graph.get(pack)
    return packed(arrays, forever=same_key(key, graph.key(pack)))
