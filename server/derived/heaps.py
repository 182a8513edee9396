"""Dropping things: starting it, and what it looks like while they fall."""

from __future__ import annotations

from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.dropping import falling, is_solid
from cenote.derive.shelves import ItemsOnShelf, whole_shelf
from cenote.derive.site import Site
from cenote.drop.heap import Drop
from cenote.site.document import Placement
from cenote.site.ground import Identity
from jobs.api import JobState, owned_job
from jobs.queue import job_view, start

from .answers import pack_response, packed
from .graphs import graph_of

router = Router(tags=["drop"])


class DropRequest(Schema):
    """What is to fall where. The heap gets this id; one that is there already is dropped anew."""

    heap: Identity
    name: str = Field("Heap", min_length=1, max_length=80)
    placement: Placement
    drop: Drop


@router.post("/sites/{uuid:site_id}/drops", response=JobState)
def drop_things(request: SignedInRequest, site_id: UUID, wanted: DropRequest) -> dict[str, Any]:
    """Start letting things fall; when they rest, they are put on the site as one object."""
    site, graph = graph_of(request, site_id)
    shelf = whole_shelf(Site(graph))
    for row, share in enumerate(wanted.drop.mix):
        known = share.item in shelf
        if not known or not is_solid(graph, share.item):
            why = f"“{shelf.title(share.item)}” is not solid; scatter it instead." if known else ""
            message = why or f"There is no kit item called “{share.item}”."
            field = {"field": f"drop/mix/{row}/item", "message": message}
            raise Problem("Some values cannot be used. Nothing was changed.", status=422, fields=[field])
    there = next((one for one in graph.document.structures if one.id == wanted.heap), None)
    if there is not None and there.source.kind != "heap":
        raise Problem(f"“{there.name}” is not a heap; nothing was dropped on its place.", status=422)
    return job_view(start("drop", site, wanted.model_dump(mode="json")))


@router.get("/jobs/{uuid:job_id}/falling", include_in_schema=False)
def get_falling(request: SignedInRequest, job_id: UUID) -> HttpResponse:
    """The shapes of what a drop lets fall, plain: positions and indices of each shape, and the shape of each piece."""
    job = owned_job(request, job_id, "drop")
    _, graph = graph_of(request, job.site_id)
    rows = falling(graph, Drop.model_validate(job.arguments["drop"]))
    shapes = list(dict.fromkeys(rows))
    arrays: dict[str, np.ndarray] = {"shape": np.array([shapes.index(row) for row in rows], np.int32)}
    for number, (item, variant) in enumerate(shapes):
        mesh = graph.get(ItemsOnShelf((item,))).mesh(item, variant, 1)
        arrays[f"{number}/position"] = mesh.positions
        arrays[f"{number}/index"] = mesh.faces.astype(np.uint32).ravel()
    return packed(arrays, {"shapes": len(shapes)}, forever=True)


@router.get("/jobs/{uuid:job_id}/frame", include_in_schema=False)
def get_frame(request: SignedInRequest, job_id: UUID) -> HttpResponse:
    """Where everything is at the moment; nothing once all is at rest."""
    job = owned_job(request, job_id, "drop")
    return pack_response(bytes(job.frame)) if job.frame else HttpResponse(status=204)
