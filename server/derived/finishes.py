"""Stills as finishes show them: a pure function of a film and of steps, so that they can be looked at while those are dragged."""

from __future__ import annotations

import io
from functools import lru_cache
from typing import Annotated, Any, Literal
from uuid import UUID

import numpy as np
from django.core.files.storage import default_storage
from django.http import HttpResponse
from ninja import Query, Router, Schema
from PIL import Image
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.finish.base import Negative, finished
from cenote.finish.stack import Stack
from cenote.finish.table import BENDS, MOST, left_out, table_of
from cenote.finish.tones import eight_bits
from cenote.still.layers import read_layers
from cenote.still.smaller import smaller
from cenote.still.studio import Studio
from cenote.still.tracing import Picture
from jobs.api import JobState
from jobs.holdings import refuse_over
from jobs.queue import job_view, start
from sites.history import parsed
from stills.models import Still
from store.blobs import shared_cache

from .answers import packed
from .stills import owned_still

router = Router(tags=["stills"])
Format = Literal["png", "png16", "jpeg", "tiff", "exr"]
_QUALITY = 90


@router.post("/tones", include_in_schema=False)
def get_tones(request: SignedInRequest, stack: Stack) -> HttpResponse:
    """A finish as far as a view can show it live: half floats by blue, green and red, and the rows of the steps that are left out."""
    table = table_of(stack.steps).astype(np.float16)
    whole = np.concatenate([table, np.ones_like(table[..., :1])], axis=-1)
    return packed({"table": whole.view(np.uint16)}, {"bends": BENDS, "most": MOST, "left_out": left_out(stack.steps)})


class FileRequest(Schema):
    """A finished still that is to be written to a file."""

    format: Format = Field(
        "png", description="PNG or TIFF of 8 or 16 bits a colour, JPEG, or linear half floats as EXR."
    )
    stack: Stack = Field(default=Stack(), description="The steps of its finish.")


@lru_cache(maxsize=3)
def _negative(still_id: str, film: str, width: int, apart: bool) -> Negative:
    still = Still.objects.get(pk=still_id)
    with default_storage.open(film) as file:
        whole = read_layers(file.read())
    region = None if still.region is None else tuple(still.region)
    small, picture = smaller(whole, Picture(still.width, still.height, region), width)
    graph = Graph(parsed(still.document), shared_cache())
    shot = next(one for one in graph.document.shots if one.id == still.shot)
    return Studio(graph, shot, picture).negative(small, apart)


@router.post("/stills/{uuid:still_id}/finished", include_in_schema=False)
def get_finished(
    request: SignedInRequest, still_id: UUID, stack: Stack, width: Annotated[int, Query(ge=64, le=2048)] = 960
) -> HttpResponse:
    """A still about so wide as steps finish it, JPEG."""
    still = owned_still(request, still_id)
    if not still.film or not default_storage.exists(still.film):
        raise Problem(
            "There is nothing of it yet that could be finished. It is kept at its end, and every minute before.",
            status=404,
        )
    negative = _negative(str(still.pk), still.film, width, stack.parts_lights)
    tones = finished(negative, stack.steps)
    content = io.BytesIO()
    Image.fromarray(eight_bits(tones)).save(content, "JPEG", quality=_QUALITY)
    return HttpResponse(content.getvalue(), content_type="image/jpeg")


@router.post("/stills/{uuid:still_id}/files", response=JobState)
def write_still(request: SignedInRequest, still_id: UUID, wanted: FileRequest) -> dict[str, Any]:
    """Start writing a finished still to a file."""
    still = owned_still(request, still_id)
    if not still.film:
        raise Problem.of_field("format", "There is nothing of it yet that could be written.")
    refuse_over(request.user, still.width * still.height * 6, "format")
    return job_view(start("finish", still.site, {"still": str(still.pk), **wanted.model_dump(mode="json")}))
