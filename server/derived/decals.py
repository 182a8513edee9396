"""Pictures that users bring in for decals."""

from __future__ import annotations

from uuid import UUID

from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.sources import PICTURE
from cenote.formats.apart import read_decal_picture_apart
from cenote.formats.meshes_in import ImportRefused
from sites.history import owned_site

from .bringing import contents, keep

router = Router(tags=["decals"])


class StoredPicture(Schema):
    """A picture that was read and kept."""

    source: str = Field(description="What documents name it by.")
    file_name: str
    columns: int
    rows: int
    remarks: list[str] = Field(description="What its owner should know.")


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
