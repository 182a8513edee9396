"""Planting: why something is (not) here, and colours that sit with their surroundings."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.decals import decals_of
from cenote.derive.matching import suggested_for
from cenote.derive.site import Site
from cenote.derive.wanted import fields_of_maps, fields_of_mask
from cenote.derive.why import about_item, why_decal, why_here
from cenote.grass.layer import Grass
from cenote.scatter.layer import Match, PlacedId, Scatter
from cenote.site.decals import PlacedDecal
from cenote.site.document import CoverLayer
from cenote.site.droplets import DropletLayer
from sites.api import Operation

from .graphs import graph_of, measured

router = Router(tags=["planting"])


class ReasonEntry(Schema):
    """One card, or another rule, at a point."""

    card: str = Field(description="The card's id; empty for other rules.")
    name: str
    value: float | None = Field(description="The signal's value; none for other rules.")
    unit: str
    weight: float = Field(description="What the ramp makes of it, from 0 to 1.")
    share: float = Field(description="How much less the mask is for it.")
    words: str


class WhyEntry(Schema):
    """A layer at a point."""

    layer: str
    name: str
    reaches: bool = Field(description="Whether the layer is laid on that surface at all.")
    mask: float
    reasons: list[ReasonEntry]
    words: str


class WhyAnswer(Schema):
    """All that was asked about a point."""

    measuring: UUID | None = Field(description="The job that measures what is missing; ask again after it.")
    surface: str = Field(description="The surface's name.")
    item: str = Field(description="What the placed item is, where one was asked about.")
    layers: list[WhyEntry]


class WhyRequest(Schema):
    """A point of a surface, and the layers to be asked about."""

    surface: str
    position: tuple[float, float, float]
    layers: list[str] = Field([], max_length=60, description="None asks about all that are laid on the surface.")
    placed: PlacedId | None = Field(None, description="A placed item of the first layer.")
    operations: list[Operation] = Field([], max_length=1000)


class MatchRequest(Schema):
    """A row of a layer's mix."""

    row: int = Field(ge=0)


@router.post("/sites/{uuid:site_id}/why", response=WhyAnswer)
def ask_why(request: SignedInRequest, site_id: UUID, wanted: WhyRequest) -> WhyAnswer:
    """Why something is, or is not, at a point: each signal's value, its weight and its share in the outcome."""
    site, graph = graph_of(request, site_id, wanted.operations)
    if wanted.surface not in graph.document.surface_ids():
        raise Problem("There is no such surface to ask about.", status=404)
    document = graph.document
    point = np.array([wanted.position])

    def lies(layer: Grass | Scatter | CoverLayer | PlacedDecal | DropletLayer) -> bool:
        if isinstance(layer, PlacedDecal):
            return any(box.holds(point)[0] for _, box in decals_of(graph, layer.id, wanted.surface))
        return wanted.surface in layer.surfaces

    found = [layer for layer in document.masked if (layer.id in wanted.layers if wanted.layers else lies(layer))]
    if missing := set(wanted.layers) - {layer.id for layer in found}:
        raise Problem(f"There is no layer “{sorted(missing)[0]}”.", status=404)
    name = Site(graph).title(wanted.surface)
    asked = [target for layer in found for target in fields_of_mask([wanted.surface], layer.where)]
    job = measured(site, graph, asked, wanted.operations)
    if job is not None:
        return WhyAnswer(measuring=job.pk, surface=name, item="", layers=[])
    item = ""
    if wanted.placed and found and isinstance(found[0], Scatter):
        try:
            item = about_item(graph, found[0], int(wanted.placed, 16))
        except KeyError:
            raise Problem("That item is not there any more.", status=404) from None
    at = wanted.surface, wanted.position
    answers = [
        why_decal(graph, layer, *at) if isinstance(layer, PlacedDecal) else why_here(graph, layer, *at)
        for layer in found
    ]
    entries = [
        WhyEntry(layer=one.layer, name=one.name, reaches=one.reaches, mask=one.mask, words=one.words,
                 reasons=[ReasonEntry(**reason.__dict__) for reason in one.reasons])
        for one in answers
    ]  # fmt: skip
    return WhyAnswer(measuring=None, surface=name, item=item, layers=entries)


@router.post("/sites/{uuid:site_id}/scatters/{layer_id}/match", response=Match)
def suggest_match(request: SignedInRequest, site_id: UUID, layer_id: str, wanted: MatchRequest) -> Match:
    """A shift of an item's colour so that it sits with the surfaces it stands on, computed from their maps."""
    _, graph = graph_of(request, site_id)
    layer = next((one for one in graph.document.planting if one.id == layer_id), None)
    if layer is None or wanted.row >= len(layer.mix):
        raise Problem("There is no such layer, or its mix has fewer rows.", status=404)
    shown = [id for id in layer.surfaces if id in graph.document.surface_ids()]
    if graph.missing(*fields_of_maps(graph, shown)):
        raise Problem("The surfaces are still being measured. Try again in a moment; nothing was changed.", status=409)
    return suggested_for(graph, layer, wanted.row)
