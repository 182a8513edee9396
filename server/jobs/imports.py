"""Meshes that users bring in: uploaded here, inspected by a job."""

from __future__ import annotations

from typing import Literal
from uuid import UUID, uuid4

from django.conf import settings
from django.core.files.storage import default_storage
from ninja import File, Form, Router, Schema, UploadedFile
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.formats.meshes_in import UNITS, kind_of
from cenote.refused import ImportRefused
from sites.history import owned_site
from sites.models import MeshImport

from .holdings import refuse_over
from .queue import start

router = Router(tags=["imports"])


class ImportState(Schema):
    """How far an import has come, and what was found in the file."""

    id: UUID
    file_name: str
    unit: str
    up: str
    state: Literal["inspecting", "ready", "refused"]
    message: str
    remarks: list[str]
    mesh: str
    textures: str = Field(description="Content hash of the textures that came with it; empty where none did.")
    wrapped: int = Field(description="How many of its parts have textures or colours of their own.")
    size: list[float]
    triangles: int


class ImportChoice(Schema):
    """How the numbers of a file are meant."""

    unit: Literal["m", "cm", "mm", "in", "ft"] = "m"
    up: Literal["y", "z"] = "y"


def _import_state(entry: MeshImport) -> ImportState:
    fields = (
        "id",
        "file_name",
        "unit",
        "up",
        "state",
        "message",
        "remarks",
        "mesh",
        "textures",
        "wrapped",
        "size",
        "triangles",
    )
    return ImportState(**{name: getattr(entry, name) for name in fields})


def _owned_import(request: SignedInRequest, site_id: UUID, import_id: UUID) -> MeshImport:
    entry = MeshImport.objects.filter(pk=import_id, site=owned_site(request.user, site_id)).first()
    if entry is None:
        raise Problem("There is no such import.", status=404)
    return entry


@router.post("/sites/{uuid:site_id}/imports", response=ImportState)
def upload_mesh(
    request: SignedInRequest, site_id: UUID, choice: Form[ImportChoice], file: File[UploadedFile]
) -> ImportState:
    """Upload a GLB, OBJ, PLY or STL, or a zip with one of them and its materials and pictures. It is checked by type and size here, then inspected by a job; nothing is placed yet."""
    site = owned_site(request.user, site_id)
    name = (file.name or "file")[-200:]
    if not file.size:
        raise Problem.of_field("file", f"“{name}” is empty; choose another file.")
    if file.size > settings.MOST_UPLOAD_BYTES:
        most = settings.MOST_UPLOAD_BYTES // 1024**2
        raise Problem.of_field("file", f"“{name}” is {file.size / 1e6:.0f} MB; at most {most} MB are taken.")
    head = file.read(512)
    file.seek(0)
    try:
        kind_of(name, head)
    except ImportRefused as refusal:
        raise Problem.of_field("file", str(refusal)) from None
    refuse_over(request.user, 2 * file.size, "file")
    upload = default_storage.save(f"uploads/{uuid4()}", file)
    entry = MeshImport.objects.create(
        site=site, file_name=name, upload=upload, bytes=file.size, unit=choice.unit, up=choice.up
    )
    start("inspect", site, {"import": str(entry.pk)})
    return _import_state(entry)


@router.get("/sites/{uuid:site_id}/imports/{uuid:import_id}", response=ImportState)
def get_import(request: SignedInRequest, site_id: UUID, import_id: UUID) -> ImportState:
    """How far an import has come."""
    return _import_state(_owned_import(request, site_id, import_id))


@router.patch("/sites/{uuid:site_id}/imports/{uuid:import_id}", response=ImportState)
def choose_units(request: SignedInRequest, site_id: UUID, import_id: UUID, choice: ImportChoice) -> ImportState:
    """Read the same file again with another unit or upward axis."""
    entry = _owned_import(request, site_id, import_id)
    assert choice.unit in UNITS
    if not entry.upload:
        raise Problem(
            f"“{entry.file_name}” was cleared away {settings.KEPT_DAYS} days after it was uploaded. Its mesh is kept; to "
            "read the file in other units, upload it again.",
            status=404,
        )
    entry.unit, entry.up, entry.state, entry.message = choice.unit, choice.up, MeshImport.State.INSPECTING, ""
    entry.save()
    start("inspect", entry.site, {"import": str(entry.pk)})
    return _import_state(entry)
