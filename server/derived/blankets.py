"""Sheets of deep covers, such as snow, for the page."""

from __future__ import annotations

from collections.abc import Container
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from cenote.derive.workshop import Workshop
from cenote.site.document import CoverLayer
from cenote.weather.blanket import Blanket, Sheet
from config.security import SignedInRequest
from sites.errors import Problem

from .answers import packed, same_key
from .workshops import workshop_of

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


def blanket_entries(workshop: Workshop, lacking: Container[str]) -> list[BlanketEntry]:
    """The sheets of a site; those on surfaces that lack signals have no key yet."""
    return [_entry(workshop, layer, blanket, lacking) for layer, blanket in workshop.blankets.all()]


def _entry(workshop: Workshop, layer: CoverLayer, blanket: Blanket, lacking: Container[str]) -> BlanketEntry:
    colour, roughness = workshop.mean_of(blanket.of, layer.cover.look(workshop.document.climate))
    waits = any(id in lacking for id in layer.surfaces)
    return BlanketEntry(
        layer=layer.id,
        sheet="" if waits else workshop.blankets.name(layer, blanket),
        material=blanket.of,
        tile=workshop.tile_name(blanket.of),
        size=workshop.document.material(blanket.of).size,
        colour=colour.tolist(),
        roughness=roughness,
    )


def sheet_arrays(sheet: Sheet, prefix: str = "") -> dict[str, np.ndarray]:
    """A sheet as drawing wants it."""
    return {
        f"{prefix}position": sheet.positions,
        f"{prefix}normal": sheet.normals,
        f"{prefix}index": sheet.faces.astype(np.uint32).ravel(),
    }


@router.get("/sites/{uuid:site_id}/blankets/{layer_id}", include_in_schema=False)
def get_blanket(request: SignedInRequest, site_id: UUID, layer_id: str, key: str = "") -> HttpResponse:
    """The sheet of a cover layer."""
    _, workshop = workshop_of(request, site_id)
    for layer, blanket in workshop.blankets.all():
        if layer.id == layer_id:
            sheet = workshop.blankets.sheet(layer, blanket)
            return packed(sheet_arrays(sheet), forever=same_key(key, workshop.blankets.name(layer, blanket)))
    raise Problem(f"No cover layer “{layer_id}” lies deep enough to be a sheet.", status=404)
