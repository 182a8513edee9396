"""Foam on a site's waters, for the page."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.foam import FOAM_COLOUR, Foamed, foam_of
from cenote.derive.graph import Graph
from cenote.derive.waters import waters

from .answers import packed, same_key
from .graphs import graph_of, key_or_none

router = Router(tags=["foam"])


def foam_key(graph: Graph, level: float, outline: np.ndarray) -> str:
    """Key of the foam on a water; empty where it has none, and until objects are there."""
    foam = foam_of(graph.document, level, outline)
    return key_or_none(graph, foam) if foam else ""


@router.get("/sites/{uuid:site_id}/foam/{int:row}", include_in_schema=False)
def get_foam(request: SignedInRequest, site_id: UUID, row: int, key: str = "") -> HttpResponse:
    """How much of one of a site's waters foam hides. :param row: which one, as the scene lists them."""
    _, graph = graph_of(request, site_id)
    there = waters(graph)
    target = foam_of(graph.document, *there[row]) if row < len(there) else None
    if target is None:
        raise Problem("There is no foam on that water.", status=404)
    found: Foamed = graph.get(target)
    meta = {"low": found.low.tolist(), "cell": found.cell, "colour": FOAM_COLOUR}
    return packed({"cover": found.cover}, meta, forever=same_key(key, graph.key(target)))
