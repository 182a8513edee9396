"""Masks of layers as they are measured: what they cover, their cards and pictures of them."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.decals import laid_on
from cenote.derive.graph import Graph
from cenote.derive.reports import BINS, covered, report
from cenote.derive.wanted import fields_of_maps, fields_of_mask
from cenote.formats.pack import pack
from cenote.grass.layer import Grass
from cenote.masks.where import Where
from cenote.render.preview import look, mask_pictures
from cenote.scatter.layer import Scatter
from cenote.site.document import CoverLayer, Shot
from cenote.site.droplets import DropletLayer
from sites.api import Operation

from .answers import pack_response, packed
from .graphs import graph_of, measured

router = Router(tags=["masks"])


class WhereRequest(Schema):
    """A layer whose mask is wanted, seen from a camera."""

    layer: str
    chain: str = Field(
        "where", pattern=r"^(where|size_where|tall_where|mix/\d{1,2}/where)$", description="Which of its masks."
    )
    operations: list[Operation] = Field([], max_length=1000)
    shot: Shot
    width: int = Field(120, ge=16, le=400)
    height: int = Field(75, ge=16, le=300)


def mask_of(graph: Graph, layer_id: str, chain: str = "where") -> tuple[Where, list[str], CoverLayer | None]:
    """A mask of a layer, the surfaces it is asked on, and the layer itself where it is a cover."""
    shown = graph.document.surface_ids()
    layers: list[CoverLayer | Scatter | DropletLayer | Grass] = [
        *graph.document.weather,
        *graph.document.planting,
        *graph.document.droplets,
        *graph.document.grass,
    ]
    for layer in layers:
        if layer.id == layer_id:
            where = layer.where
            if isinstance(layer, Scatter) and chain != "where":
                row = int(chain.split("/")[1]) if chain != "size_where" else 0
                if row >= len(layer.mix):
                    raise Problem("The layer's mix has fewer rows.", status=404)
                where = layer.size_where if chain == "size_where" else layer.mix[row].where
            if isinstance(layer, Grass) and chain == "tall_where":
                where = layer.tall_where
            cover = layer if isinstance(layer, CoverLayer) else None
            return where, [id for id in layer.surfaces if id in shown], cover
    for decal in graph.document.decals:
        if decal.id == layer_id:
            return decal.where, laid_on(graph, decal.id), None
    raise Problem(f"There is no layer “{layer_id}”.", status=404)


class CoverageEntry(Schema):
    """What a cover takes in the site's climate."""

    layer: str
    covered: float = Field(description="m².")
    area: float = Field(description="m² of the surfaces that share it.")


class Coverage(Schema):
    """What all covers take; none while signals are being measured."""

    covers: list[CoverageEntry]
    measuring: UUID | None = Field(description="The job that measures what is missing.")


@router.get("/sites/{uuid:site_id}/coverage", response=Coverage)
def get_coverage(request: SignedInRequest, site_id: UUID) -> Coverage:
    """What each shown cover takes of the surfaces that share it, as the dials stand."""
    site, graph = graph_of(request, site_id)
    job = measured(site, graph, fields_of_maps(graph, graph.document.surface_ids()))
    if job is not None:
        return Coverage(covers=[], measuring=job.pk)
    entries = []
    for layer in graph.document.weather:
        if layer.shown:
            covers, area = covered(graph, layer)
            entries.append(CoverageEntry(layer=layer.id, covered=covers, area=area))
    return Coverage(covers=entries, measuring=None)


@router.post("/sites/{uuid:site_id}/where", include_in_schema=False)
def report_where(request: SignedInRequest, site_id: UUID, wanted: WhereRequest) -> HttpResponse:
    """A layer's mask: histograms, coverage, and each card as seen from a camera."""
    site, graph = graph_of(request, site_id, wanted.operations)
    where, ids, cover = mask_of(graph, wanted.layer, wanted.chain)
    job = measured(site, graph, fields_of_mask(ids, where), wanted.operations)
    if job is not None:
        return packed({}, {"measuring": str(job.pk)})
    found_of = report(graph, where, ids, cover)
    cards, whole = mask_pictures(graph, where, found_of.masks, look(graph, wanted.shot, wanted.width, wanted.height))
    histograms = np.array([card.histogram for card in found_of.cards], np.float32).reshape(-1, BINS)
    meta = {
        "measuring": None,
        "covered": found_of.covered,
        "area": found_of.area,
        "surfaces": len(ids),
        "cards": [
            {"id": card.id, "low": found.low, "high": found.high, "coverage": found.coverage}
            for card, found in zip(where.cards, found_of.cards, strict=True)
        ],
    }
    return pack_response(pack({"histograms": histograms, "cards": cards, "whole": whole}, meta))
