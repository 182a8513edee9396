"""Pictures that users bring in for decals."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.decals import decals_of
from cenote.derive.graph import Lacking
from cenote.derive.sources import PICTURE
from cenote.formats.apart import read_decal_picture_apart
from cenote.refused import ImportRefused
from sites.history import owned_site

from .bringing import contents, keep
from .graphs import graph_of

router = Router(tags=["decals"])


class StoredPicture(Schema):
    """A picture that was read and kept."""

    source: str = Field(description="What documents name it by.")
    file_name: str
    columns: int
    rows: int
    remarks: list[str] = Field(description="What its owner should know.")


class PointAsked(Schema):
    """A point of a surface."""

    surface: str
    position: tuple[float, float, float]


class SpreadDecal(Schema):
    """One of those that a rule lays."""

    id: str = Field(description="Its own for ever.")
    matrix: list[float] = Field(
        description="4×4, row by row, from its box to the world: x to its right, y out of the surface, z down its picture."
    )
    width: float = Field(description="m.")
    height: float = Field(description="m.")
    reach: float = Field(description="m.")
    seed: int


class DecalAnswer(Schema):
    """What lies at a point."""

    found: SpreadDecal | None


@router.post("/sites/{uuid:site_id}/decals/{decal_id}/at", response=DecalAnswer)
def find_spread(request: SignedInRequest, site_id: UUID, decal_id: str, asked: PointAsked) -> DecalAnswer:
    """Which of those that a decal's rule lays is uppermost at a point."""
    _, graph = graph_of(request, site_id)
    if all(one.id != decal_id for one in graph.document.decals):
        raise Problem("There is no such decal.", status=404)
    if asked.surface not in graph.document.surface_ids():
        raise Problem("There is no such surface.", status=404)
    point = np.array([asked.position])
    try:
        there = [(id, box) for id, box in decals_of(graph, decal_id, asked.surface) if id and box.holds(point)[0]]
    except Lacking:
        raise Problem(
            "Its mask is still being measured. Try again in a moment; nothing was changed.", status=409
        ) from None
    if not there:
        return DecalAnswer(found=None)
    id, box = there[-1]
    width, height, reach = box.size
    matrix = box.matrix.ravel().tolist()
    return DecalAnswer(found=SpreadDecal(id=id, matrix=matrix, width=width, height=height, reach=reach, seed=box.seed))


@router.post("/sites/{uuid:site_id}/decals/pictures", response=StoredPicture)
def upload_picture(request: SignedInRequest, site_id: UUID, file: File[UploadedFile]) -> StoredPicture:
    """Read a picture, and keep it for decals."""
    owned_site(request.user, site_id)
    ((name, content),) = contents([file], "file").items()
    try:
        pixels, remarks = read_decal_picture_apart(name, content)
    except ImportRefused as refusal:
        raise Problem.of_field("file", str(refusal)) from None
    source = keep(request.user, PICTURE, {"pixels": pixels}, "file")
    return StoredPicture(source=source, file_name=name, columns=pixels.shape[1], rows=pixels.shape[0], remarks=remarks)
