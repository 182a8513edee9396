"""Patches: maps of what is looked at from near, as finely as it is seen."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.maps import Composition
from cenote.derive.patches import PatchMaps, cut, together
from cenote.derive.surfaces import PATCH, Shape
from cenote.derive.wanted import near_tiles
from jobs.queue import start

from .answers import packed
from .graphs import graph_of, key_or_none, surface_of
from .side_by_side import side_by_side

router = Router(tags=["patches"])


class PatchAsked(Schema):
    """One patch of a surface."""

    surface: str
    level: int = Field(ge=1, le=16)
    row: int = Field(ge=0)
    column: int = Field(ge=0)


class PatchesAsked(Schema):
    """Some patches, of whatever surfaces."""

    patches: list[PatchAsked] = Field(min_length=1, max_length=64)


def _check(shape: Shape, asked: PatchAsked, at: int) -> None:
    rows, columns = (-(-side * 2**asked.level // PATCH) for side in (shape.atlas.height, shape.atlas.width))
    if asked.level > shape.finest_level or asked.row >= rows or asked.column >= columns:
        why = f"{asked.surface} has no such patch: its finest level is {shape.finest_level}."
        raise Problem.of_field(f"patches/{at}", why)


@router.post("/sites/{uuid:site_id}/patches", include_in_schema=False)
def get_patches(request: SignedInRequest, site_id: UUID, asked: PatchesAsked) -> HttpResponse:
    """Maps of patches, one below the other; the meta tells which they are, and what they are composed of.

    Patches of surfaces that are not measured yet are left out.
    """
    site, graph = graph_of(request, site_id)
    if any(not graph.has(one) for one in near_tiles(graph)):
        start("near", site, target="near")
    by_level: dict[tuple[str, int], list[tuple[int, int]]] = {}
    for at, one in enumerate(asked.patches):
        _check(surface_of(graph, one.surface).shape, one, at)
        by_level.setdefault((one.surface, one.level), []).append((one.row, one.column))
    keys = {surface: key_or_none(graph, Composition(surface)) for surface, _ in by_level}
    composed = [
        (PatchMaps(surface, level, patches), some)
        for (surface, level), wanted in by_level.items()
        if keys[surface]
        for patches, some in together(wanted).items()
    ]
    # The largest first, so that none of them goes on alone at the end.
    composed.sort(key=lambda one: -len(one[1]))
    told: list[dict[str, object]] = []
    pictures: dict[str, list[np.ndarray]] = {"base": [], "orm": [], "normal": []}
    for (of, some), maps in zip(composed, side_by_side(graph.get, [of for of, _ in composed]), strict=True):
        for row, column in some:
            told.append({"surface": of.id, "level": of.level, "row": row, "column": column, "of": keys[of.id]})
            for name, list_ in pictures.items():
                list_.append(cut(getattr(maps, name), of.patches, (row, column)))
    stacked = {name: np.concatenate(list_) for name, list_ in pictures.items() if list_}
    return packed(stacked, {"patches": told})
