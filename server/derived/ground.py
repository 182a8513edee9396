"""The ground being shaped: strokes as they are made, height maps in and out."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.ground import GroundHeights
from cenote.derive.sources import HEIGHT_MAP
from cenote.formats.apart import read_height_map_apart
from cenote.formats.height_maps import write_height_map
from cenote.refused import ImportRefused
from cenote.site.ground import Stroke
from sites.history import owned_site

from .answers import packed
from .bringing import contents, keep
from .graphs import graph_of

router = Router(tags=["ground"])


class StoredMap(Schema):
    """A height map that was read and kept; the ground does not use it yet."""

    map: str
    file_name: str
    columns: int
    rows: int
    remarks: list[str]


@router.post("/sites/{uuid:site_id}/ground/stroke", include_in_schema=False)
def stroke(request: SignedInRequest, site_id: UUID, wanted: Stroke) -> HttpResponse:
    """Heights under one more stroke, which is not saved: those of the points that it moves, and where these are."""
    _, graph = graph_of(request, site_id)
    before = graph.get(GroundHeights()).heights
    after = graph.document.ground.stroked(before, wanted, len(graph.document.ground.strokes))
    moved = np.abs(after - before) > 1e-7
    rows, columns = np.flatnonzero(moved.any(1)), np.flatnonzero(moved.any(0))
    if not len(rows):
        rows = columns = np.zeros(1, np.int64)
    window = [int(rows[0]), int(rows[-1]) + 1, int(columns[0]), int(columns[-1]) + 1]
    part = np.ascontiguousarray(after[window[0] : window[1], window[2] : window[3]], np.float32)
    return packed({"heights": part}, {"window": window, "shape": list(after.shape)})


@router.post("/sites/{uuid:site_id}/ground/maps", response=StoredMap)
def upload_map(request: SignedInRequest, site_id: UUID, file: File[UploadedFile]) -> StoredMap:
    """Read a height map, and keep it."""
    owned_site(request.user, site_id)
    ((name, content),) = contents([file], "file").items()
    try:
        values, remarks = read_height_map_apart(name, content)
    except ImportRefused as refusal:
        raise Problem.of_field("file", str(refusal)) from None
    digest = keep(request.user, HEIGHT_MAP, {"heights": values}, "file")
    return StoredMap(map=digest, file_name=name, columns=values.shape[1], rows=values.shape[0], remarks=remarks)


@router.get("/sites/{uuid:site_id}/ground/map", include_in_schema=False)
def download_map(request: SignedInRequest, site_id: UUID, format: Literal["png", "exr"] = "png") -> HttpResponse:
    """The ground as a height map; the file's name tells the heights of black and white."""
    _, graph = graph_of(request, site_id)
    content, low, high = write_height_map(graph.get(GroundHeights()).heights, format)
    response = HttpResponse(content, content_type="image/png" if format == "png" else "image/x-exr")
    response["Content-Disposition"] = f'attachment; filename="ground_{low:.3f}m_to_{high:.3f}m.{format}"'
    return response
