"""How a change would look before it is made, coarse and at once."""

from __future__ import annotations

from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.security import SignedInRequest
from cenote.derive.items import ItemLook, LookOfItem, placed_items, shown_scatters
from cenote.derive.maps import PreviewMaps
from cenote.derive.masks import Mask
from cenote.derive.reports import held_mask
from cenote.derive.sheets import LaidSheet, blankets_on
from cenote.derive.site import Site
from cenote.derive.wanted import fields_of_maps, fields_of_scatter
from cenote.formats.pack import pack
from sites.api import Operation

from .answers import pack_response
from .blankets import blanket_entries
from .graphs import graph_of, measured, scatter_of, surface_of
from .masks import mask_of
from .packs.planting import PlacementsPack
from .packs.sheets import SheetPack
from .scatters import coat_entries
from .scene import stiffness_of, wind_entry

router = Router(tags=["preview"])


class PreviewRequest(Schema):
    """A change that is not made yet, and what of its outcome is wanted."""

    operations: list[Operation] = Field([], max_length=1000)
    surfaces: list[str] = Field([], max_length=500, description="Base colours of these, coarse.")
    scatters: list[str] = Field([], max_length=200, description="Placements of these layers.")
    blankets: bool = Field(False, description="Whether the sheets of deep covers are wanted, coarse.")
    mask_of: str | None = Field(None, description="The mask of this layer in place of base colours.")
    coarser: int = Field(0, ge=0, le=3, description="How many times the side of a cell is doubled.")


@router.post("/sites/{uuid:site_id}/preview", include_in_schema=False)
def preview(request: SignedInRequest, site_id: UUID, wanted: PreviewRequest) -> HttpResponse:
    """How a change would look, coarse and at once. Nothing is saved."""
    site, graph = graph_of(request, site_id, wanted.operations)
    ids = graph.document.surface_ids()
    for id in wanted.surfaces:
        surface_of(graph, id)
    layers = [scatter_of(graph, id) for id in wanted.scatters]
    asked = fields_of_maps(graph, wanted.surfaces)
    if wanted.blankets:
        asked += [LaidSheet(layer.id, True) for layer, _ in blankets_on(graph)]
    for layer in layers:
        asked += fields_of_scatter(graph, layer.id)
    job = measured(site, graph, asked, wanted.operations)
    arrays: dict[str, np.ndarray] = {}
    looks: dict[str, ItemLook] = {kind: graph.get(LookOfItem(kind)) for kind in placed_items(shown_scatters(graph))}
    items = {kind: {"leaves": look.leaves, "colour": look.colour.tolist(), "stiffness": stiffness_of(look)}
             for kind, look in looks.items()}  # fmt: skip
    meta: dict[str, Any] = {"measuring": str(job.pk) if job else None, "scatters": {},
                            "items": items, "wind": wind_entry(graph).model_dump(),
                            "coats": [coat.model_dump() for coat in coat_entries(graph)]}  # fmt: skip
    if job is not None:
        return pack_response(pack(arrays, meta))
    if wanted.blankets:
        meta["blankets"] = [entry.model_dump() for entry in blanket_entries(graph, keyed=False)]
        for deep, _ in blankets_on(graph):
            sheet = graph.get(SheetPack(deep.id, True))
            arrays |= {f"{deep.id}/sheet/{name}": array for name, array in sheet.items()}
    mask = mask_of(graph, wanted.mask_of) if wanted.mask_of else None
    for id in wanted.surfaces:
        if mask is not None and id in ids:
            where, _, cover = mask
            target = (
                held_mask(Site(graph), cover, id, -wanted.coarser) if cover else Mask(id, where.plain, -wanted.coarser)
            )
            arrays[f"{id}/mask"] = np.round(graph.get(target) * 255).astype(np.uint8)
        else:
            arrays[f"{id}/base"] = graph.get(PreviewMaps(id, -wanted.coarser)).base
    for layer in layers:
        found, entry = graph.get(PlacementsPack(layer.id))
        arrays |= {f"{layer.id}/{name}": array for name, array in found.items()}
        meta["scatters"][layer.id] = entry
    return pack_response(pack(arrays, meta))
