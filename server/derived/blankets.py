"""Sheets of deep covers, such as snow, for the page."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.derive.sheets import blankets_on
from cenote.derive.tiles import TileMean, graded
from cenote.site.document import CoverLayer
from cenote.weather.blanket import Blanket

from .answers import packed, same_key
from .graphs import graph_of, key_or_none
from .packs.kit import TilePack
from .packs.sheets import SheetPack

router = Router(tags=["blankets"])


class BlanketEntry(Schema):
    """A cover that lies as a sheet of its own."""

    layer: str
    sheet: str = Field(description="Key of the sheet; empty until its signals are measured.")
    material: str
    tile: str = Field(description="Key of its material's tile.")
    size: float = Field(description="Side of that tile, metres.")
    colour: list[float] = Field(description="Linear, the mean of the tile as the cover grades it.")
    roughness: float


def blanket_entries(graph: Graph, keyed: bool = True) -> list[BlanketEntry]:
    """The sheets of a site. Those whose signals are not measured have no key yet, and none has where none is wanted."""
    return [_entry(graph, layer, blanket, keyed) for layer, blanket in blankets_on(graph)]


def _entry(graph: Graph, layer: CoverLayer, blanket: Blanket, keyed: bool) -> BlanketEntry:
    colour, roughness = graded(graph.get(TileMean(blanket.of)), layer.cover.look(graph.document.conditions))
    return BlanketEntry(
        layer=layer.id,
        sheet=key_or_none(graph, SheetPack(layer.id)) if keyed else "",
        material=blanket.of,
        tile=graph.key(TilePack(blanket.of)),
        size=graph.document.material(blanket.of).size,
        colour=colour.tolist(),
        roughness=roughness,
    )


@router.get("/sites/{uuid:site_id}/blankets/{layer_id}", include_in_schema=False)
def get_blanket(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """The sheet of a cover layer."""
    _, graph = graph_of(request, site_id)
    if not any(layer.id == layer_id for layer, _ in blankets_on(graph)):
        raise Problem(f"No cover layer “{layer_id}” lies deep enough to be a sheet.", status=404)
    arrays = graph.get(SheetPack(layer_id))
    return packed(arrays, forever=same_key(key, graph.key(SheetPack(layer_id))))
