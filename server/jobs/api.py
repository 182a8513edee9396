"""Jobs: what is going on, stopping it, exports and their files."""

from __future__ import annotations

import re
from datetime import datetime, timedelta
from pathlib import Path
from typing import Annotated, Any, Literal
from uuid import UUID

from django.conf import settings
from django.core.files.storage import default_storage
from django.http import FileResponse
from ninja import Query, Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.graph import Graph
from cenote.render.needed import texels_needed, texels_of
from sites.history import owned_site, parsed
from store.blobs import shared_cache

from .holdings import holdings_of, refuse_over
from .models import Job
from .queue import job_view, start, tell
from .rescue import end_if_dropped
from .work import WORK

router = Router(tags=["jobs"])
# Files of a site that are listed.
_LISTED = 40
# Sizes of texels that an export is offered in, metres, and how many bytes one comes to in a file: three maps as PNG.
EXPORTED, BYTES_A_TEXEL = (0.1, 0.05, 0.025, 0.0125), 5.5


class JobState(Schema):
    """A job."""

    id: UUID
    kind: str = Field(description="What it does: measure, inspect, export and so on.")
    title: str = Field(description="What it is called while it goes on.")
    patient: bool = Field(description="Whether it comes after all other work of the site.")
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    done: int
    total: int
    doing: str
    message: str
    result: dict[str, Any]


class MadeFile(Schema):
    """A file that a job has written."""

    job: UUID
    kind: str
    title: str
    made: datetime
    until: datetime = Field(description="When it is deleted.")
    bytes: int
    ending: str = Field(description="Of its name, for instance .glb.")
    about: str = Field(description="How it was wanted.")


class ExportRequest(Schema):
    """How to write the dressed site."""

    manner: Literal["instanced", "merged"] = Field(
        "instanced",
        description="Instanced keeps each kit mesh once and a table of places; merged writes every copy out, larger but plain.",
    )
    texel: float = Field(
        0.025, ge=0.005, le=0.5, description="Side of a texel of the composed maps.", json_schema_extra={"unit": "m"}
    )
    shot: str = Field(
        "",
        max_length=80,
        description="A shot that texels are as fine as: each surface as it is seen; in place of their size.",
    )
    rows: int = Field(1080, ge=240, le=8640, description="Height of the picture that the shot is wanted for, pixels.")


class ExportCost(Schema):
    """What maps of a choice of texels come to."""

    texel: float = Field(description="Side of a texel, metres; 0 where a shot decides.")
    shot: str = Field(description="The shot that decides; empty where their size does.")
    name: str = Field(description="The shot's name.")
    texels: int
    bytes: int = Field(description="About how large the maps are in a file.")


def owned_job(request: SignedInRequest, job_id: UUID, kind: str | None = None) -> Job:
    """A job of this user.

    :raises Problem: 404 if it is not theirs, not there, or of another kind.
    """
    job = Job.objects.select_related("site").filter(pk=job_id, site__owner=request.user).first()
    if job is None or (kind is not None and job.kind != kind):
        raise Problem("There is no such job among yours.", status=404)
    return job


@router.get("/sites/{uuid:site_id}/jobs", response=list[JobState])
def list_jobs(request: SignedInRequest, site_id: UUID) -> list[dict[str, Any]]:
    """The site's jobs that wait or run."""
    going = owned_site(request.user, site_id).jobs.filter(state__in=(Job.State.WAITING, Job.State.RUNNING))
    return [job_view(job) for job in going]


@router.get("/sites/{uuid:site_id}/files", response=list[MadeFile])
def list_files(request: SignedInRequest, site_id: UUID) -> list[MadeFile]:
    """The files that jobs of this site have written, newest first: exports and texture sets."""
    kinds = [work.kind for work in WORK if work.files]
    done = owned_site(request.user, site_id).jobs.filter(kind__in=kinds, state=Job.State.DONE).order_by("-created")
    return [
        MadeFile(job=job.pk, kind=job.kind, title=str(job.result.get("title") or job.site.name), made=job.changed, until=job.changed + timedelta(days=settings.KEPT_DAYS),
                 bytes=int(job.result.get("bytes", 0)), ending=Path(job.result["file"]).suffix,
                 about=str(job.result.get("about", "")))
        for job in done.select_related("site")[:_LISTED]
        if job.result.get("file") and default_storage.exists(job.result["file"])
    ]  # fmt: skip


class StorageState(Schema):
    """What the user holds, bytes."""

    used: int
    most: int
    brought: int = Field(description="Meshes, height maps and texture sets.")
    uploads: int = Field(description="Files as they were uploaded.")
    made: int = Field(description="Files that jobs have written.")
    days: int = Field(description="For so long uploads and made files wait.")


@router.get("/storage", response=StorageState)
def get_storage(request: SignedInRequest) -> StorageState:
    """What the user holds, and how much that may be."""
    held = holdings_of(request.user)
    return StorageState(used=held.total, most=settings.USER_BYTES, brought=held.brought, uploads=held.uploads,
                        made=held.made, days=settings.KEPT_DAYS)  # fmt: skip


@router.delete("/jobs/{uuid:job_id}/file", response={204: None})
def delete_file(request: SignedInRequest, job_id: UUID) -> tuple[int, None]:
    """Delete a file that was fetched, or is not wanted any more."""
    job = owned_job(request, job_id)
    if name := job.result.get("file"):
        Job.objects.filter(pk=job.pk).update(result=job.result | {"file": "", "bytes": 0})
        default_storage.delete(name)
    return 204, None


@router.get("/jobs/{uuid:job_id}", response=JobState)
def get_job(request: SignedInRequest, job_id: UUID) -> dict[str, Any]:
    """One job."""
    return job_view(owned_job(request, job_id))


@router.post("/jobs/{uuid:job_id}/cancel", response=JobState)
def cancel_job(request: SignedInRequest, job_id: UUID) -> dict[str, Any]:
    """Ask a job to stop; it does at its next report of progress, or before it starts."""
    job = owned_job(request, job_id)
    if not job.ended:
        job.cancel()
        end_if_dropped(job)
        tell(job)
    return job_view(job)


@router.get("/sites/{uuid:site_id}/exports/costs", response=list[ExportCost])
def export_costs(
    request: SignedInRequest, site_id: UUID, rows: Annotated[int, Query(ge=240, le=8640)] = 1080
) -> list[ExportCost]:
    """What the maps of an export come to: by size of texels, and as each shot needs them for a picture so many pixels high."""
    graph = Graph(parsed(owned_site(request.user, site_id).document), shared_cache())
    out = []
    for texel, shot in [*((one, None) for one in EXPORTED), *((0.0, one) for one in graph.document.shots)]:
        texels = texels_of(graph, texel if shot is None else texels_needed(graph, shot, rows))
        id, name = ("", "") if shot is None else (shot.id, shot.name)
        out.append(ExportCost(texel=texel, shot=id, name=name, texels=texels, bytes=round(texels * BYTES_A_TEXEL)))
    return out


@router.post("/sites/{uuid:site_id}/exports", response=JobState)
def export_site(request: SignedInRequest, site_id: UUID, wanted: ExportRequest) -> dict[str, Any]:
    """Start writing the dressed site as GLB."""
    site = owned_site(request.user, site_id)
    if wanted.shot and wanted.shot not in {one.id for one in parsed(site.document).shots}:
        raise Problem.of_field("shot", "There is no such shot on this site.")
    refuse_over(request.user, 0, "texel")
    job = start("export", site, wanted.model_dump())
    return job_view(job)


class TexturesRequest(Schema):
    """How a material's textures are wanted."""

    pixels: Literal[512, 1024, 2048, 4096] = 2048
    format: Literal["png", "exr"] = "png"


@router.post("/sites/{uuid:site_id}/materials/{kind}/textures", response=JobState)
def export_textures(request: SignedInRequest, site_id: UUID, kind: str, wanted: TexturesRequest) -> dict[str, Any]:
    """Start writing all channels of a material as a zip of picture files."""
    site = owned_site(request.user, site_id)
    if not parsed(site.document).has_material(kind):
        raise Problem(f"There is no material “{kind}” on this site.", status=404)
    refuse_over(request.user, 0, "pixels")
    return job_view(start("textures", site, {"material": kind, **wanted.model_dump()}))


@router.get("/jobs/{uuid:job_id}/file", include_in_schema=False)
def get_export(request: SignedInRequest, job_id: UUID) -> FileResponse:
    """The file that an export has written."""
    job = owned_job(request, job_id)
    name = job.result.get("file", "")
    if not name or not default_storage.exists(name):
        raise Problem("This export has no file. Start it again.", status=404)
    stem = re.sub(r"[^\w-]+", "-", str(job.result.get("title", job.site.name)).lower()).strip("-") or "site"
    suffix = Path(name).suffix
    return FileResponse(
        default_storage.open(name),
        as_attachment=True,
        filename=f"{stem}{suffix}",
        content_type=WORK[job.kind].files[suffix],
    )
