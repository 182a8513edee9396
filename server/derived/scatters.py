"""What scatter layers place, and what covers lie on it."""

from __future__ import annotations

import re
from dataclasses import asdict
from uuid import UUID

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.security import SignedInRequest
from cenote.derive.coats import CoatLooks
from cenote.derive.graph import Graph
from cenote.derive.store import pack_arrays
from cenote.formats.pack import pack
from store.blobs import shared_cache

from .answers import pack_response, packed, same_key
from .graphs import graph_of, scatter_of
from .packs.parts import FIRST, MARK, only_changed
from .packs.planting import CoatsPack, PlacementsPack

router = Router(tags=["scatters"])
_KEY = re.compile(r"PlacementsPack-[0-9a-f]{32}")


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
def get_placements(
    request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "", known: str = ""
) -> HttpResponse:
    """What a scatter layer places; where the page has an earlier table, only the parts that differ from it.

    :param known: the key of that table.
    """
    _, graph = graph_of(request, site_id)
    target = PlacementsPack(scatter_of(graph, layer_id).id)
    arrays, meta = graph.get(target)
    now, cache = graph.key(target), shared_cache()
    if not cache.store.has(f"{now}.parts"):
        cache.store.write(f"{now}.parts", pack_arrays({name: arrays[name] for name in (FIRST, MARK)}))
    # A table that is not known any more, or made by an older version, is as good as none.
    before = cache.read(f"{known}.parts") if _KEY.fullmatch(known) and known != now else None
    if before is not None:
        arrays = only_changed(arrays, before)
    return pack_response(pack(arrays, meta), forever=same_key(key, now))


@router.get("/sites/{uuid:site_id}/scatters/{layer_id}/coats", include_in_schema=False)
def get_coats(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """The masks of covers at a scatter layer's items."""
    _, graph = graph_of(request, site_id)
    target = CoatsPack(scatter_of(graph, layer_id).id)
    arrays = graph.get(target)
    return packed(arrays, forever=same_key(key, graph.key(target)))
