"""How a change would look before it is made, coarse and at once."""

from __future__ import annotations

from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from cenote.formats.pack import pack
from config.security import SignedInRequest
from sites.api import Operation

from .answers import pack_response
from .blankets import blanket_entries, sheet_arrays
from .kit import placed_items
from .masks import mask_of
from .scatters import coat_entries, placement_arrays
from .scene import wind_entry
from .workshops import measured, scatter_of, surface_of, workshop_of

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
    site, workshop = workshop_of(request, site_id, wanted.operations)
    requests = workshop.map_needs(wanted.surfaces)
    layers = [scatter_of(workshop, id) for id in wanted.scatters]
    for layer in layers:
        requests += workshop.planting_needs(layer, workshop.document.surface_ids())
    job = None if not workshop.unmeasured(requests) else measured(site, workshop, requests)
    arrays: dict[str, np.ndarray] = {}
    items = {kind: {"leaves": workshop.items.leaves(kind), "colour": workshop.items.season_colour(kind).tolist()}
             for kind in placed_items(workshop)}  # fmt: skip
    meta: dict[str, Any] = {"measuring": str(job.pk) if job else None, "scatters": {},
                            "items": items, "wind": wind_entry(workshop).model_dump(),
                            "coats": [coat.model_dump() for coat in coat_entries(workshop)]}  # fmt: skip
    if job is None and wanted.blankets:
        meta["blankets"] = [entry.model_dump() | {"sheet": ""} for entry in blanket_entries(workshop, ())]
        for deep, blanket in workshop.blankets.all():
            arrays |= sheet_arrays(workshop.blankets.sheet(deep, blanket, coarse=True), f"{deep.id}/sheet/")
    if job is None:
        asked = mask_of(workshop, wanted.mask_of) if wanted.mask_of else None
        for id in wanted.surfaces:
            surface = surface_of(workshop, id)
            if asked is not None:
                where, _, cover = asked
                mask = workshop.layer_mask(cover or where, surface, -wanted.coarser)
                arrays[f"{id}/mask"] = np.round(mask * 255).astype(np.uint8)
            else:
                arrays[f"{id}/base"] = workshop.preview_maps(surface, -wanted.coarser).base
        for layer in layers:
            found, entry = placement_arrays(f"{layer.id}/", workshop.placements(layer), workshop)
            arrays |= found
            meta["scatters"][layer.id] = entry
    return pack_response(pack(arrays, meta))
