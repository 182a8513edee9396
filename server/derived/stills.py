"""Stills: asking for them, looking at them, going on with them, and putting a site back to what one shows."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from django.core.files.storage import default_storage
from django.http import FileResponse
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.still.tracing import MOST_PIXELS
from jobs.api import JobState
from jobs.holdings import refuse_over
from jobs.models import Job
from jobs.queue import job_view, start
from sites import history
from sites.history import owned_site, parsed
from stills.models import Still

router = Router(tags=["stills"])
# Bytes of a film for each pixel, about, and how many stills of a site are kept.
_BYTES_A_PIXEL, MOST_STILLS = 150, 200


class StillRequest(Schema):
    """A still that is wanted."""

    shot: str = Field(max_length=64, description="The shot that it shows.")
    width: int = Field(640, ge=16, le=8192, description="Pixels.")
    height: int = Field(427, ge=16, le=8192, description="Pixels.")
    samples: int = Field(16, ge=1, le=65_536, description="Paths of light for each pixel.")
    sharers: int = Field(0, ge=0, le=16, description="Other workers that trace it too, as far as any are free.")
    region: list[float] | None = Field(
        None,
        min_length=4,
        max_length=4,
        description="Left, top, right, bottom of the part that is traced, in shares of its sides; all of it where none is given.",
    )


class MoreRequest(Schema):
    """How long a still goes on."""

    samples: int = Field(ge=1, le=65_536, description="Paths of light for each pixel, in all.")


class StillState(Schema):
    """A still."""

    id: UUID
    name: str = Field(description="Of the shot, as it was called.")
    shot: str
    revision: int = Field(description="Of the site, when it was asked for.")
    width: int
    height: int
    region: list[float] | None
    wanted: int
    samples: float
    seconds: float = Field(description="That it was traced for.")
    picture: str = Field(description="Changes with each picture that there is of it; empty before the first.")
    bytes: int = Field(description="Of its layers of light, as they were kept last; 0 before that.")
    created: datetime
    job: JobState | None = Field(description="The work on it that goes on, or how that ended.")


def _state(still: Still, job: Job | None) -> StillState:
    return StillState(
        id=still.pk, name=still.name, shot=still.shot, revision=still.revision, width=still.width, height=still.height,
        region=still.region, wanted=still.wanted, samples=still.samples, seconds=still.seconds, picture=still.picture,
        bytes=still.bytes, created=still.created, job=JobState(**job_view(job)) if job else None,
    )  # fmt: skip


def owned_still(request: SignedInRequest, still_id: UUID) -> Still:
    """A still of this user. :raises Problem: 404 if it is not theirs, or not there."""
    found = Still.objects.select_related("site").filter(pk=still_id, site__owner=request.user).first()
    if found is None:
        raise Problem("There is no such still among yours; it may have been deleted.", status=404)
    return found


def _job_of(still: Still) -> Job | None:
    return Job.objects.filter(pk=still.job).first() if still.job else None


def _begin(still: Still) -> StillState:
    job = start("still", still.site, {"still": str(still.pk)})
    still.take(job=job.pk)
    return _state(still, job)


@router.get("/sites/{uuid:site_id}/stills", response=list[StillState])
def list_stills(request: SignedInRequest, site_id: UUID) -> list[StillState]:
    """The stills of a site, newest first."""
    stills = list(owned_site(request.user, site_id).stills.defer("document"))
    jobs = {job.pk: job for job in Job.objects.filter(pk__in=[still.job for still in stills if still.job])}
    return [_state(still, jobs.get(still.job) if still.job else None) for still in stills]


@router.post("/sites/{uuid:site_id}/stills", response=StillState)
def take_still(request: SignedInRequest, site_id: UUID, wanted: StillRequest) -> StillState:
    """Start a still of the site as it is now."""
    site = owned_site(request.user, site_id)
    shot = next((one for one in parsed(site.document).shots if one.id == wanted.shot), None)
    if shot is None:
        raise Problem.of_field("shot", "There is no such shot on this site.")
    if wanted.width * wanted.height > MOST_PIXELS:
        raise Problem.of_field("width", f"A still has {MOST_PIXELS / 1e6:.0f} million pixels at most.")
    if wanted.region is not None:
        left, top, right, bottom = wanted.region
        if not (0 <= left < right <= 1 and 0 <= top < bottom <= 1):
            raise Problem.of_field("region", "It has to lie within the picture, and to have a size.")
    if site.stills.count() >= MOST_STILLS:
        raise Problem.of_field("shot", f"A site keeps {MOST_STILLS} stills. Delete some that you no longer need.")
    refuse_over(request.user, wanted.width * wanted.height * _BYTES_A_PIXEL, "width")
    still = Still.objects.create(
        site=site, name=shot.name, shot=shot.id, revision=site.revision, document=site.document, width=wanted.width,
        height=wanted.height, region=wanted.region, wanted=wanted.samples, sharers=wanted.sharers,
    )  # fmt: skip
    return _begin(still)


@router.post("/stills/{uuid:still_id}/more", response=StillState)
def go_on(request: SignedInRequest, still_id: UUID, wanted: MoreRequest) -> StillState:
    """Go on with a still from where it is."""
    still = owned_still(request, still_id)
    job = _job_of(still)
    if job is not None and not job.ended:
        raise Problem.of_field("samples", "It is being taken at this moment. Stop it first.")
    if wanted.samples <= still.samples:
        raise Problem.of_field("samples", f"It has {still.samples:.0f} samples already. Ask for more than that.")
    still.take(wanted=wanted.samples)
    return _begin(still)


@router.delete("/stills/{uuid:still_id}", response={204: None})
def delete_still(request: SignedInRequest, still_id: UUID) -> tuple[int, None]:
    """Delete a still, its picture and what it could go on from."""
    still = owned_still(request, still_id)
    job = _job_of(still)
    if job is not None and not job.ended:
        job.cancel()
    still.delete()
    still.delete_files()
    return 204, None


@router.post("/stills/{uuid:still_id}/restore", response={204: None})
def restore(request: SignedInRequest, still_id: UUID) -> tuple[int, None]:
    """Put a site back to what it was when a still was asked for: one step, which can be undone."""
    still = owned_still(request, still_id)
    operations = [{"op": "add", "path": f"/{name}", "value": value} for name, value in still.document.items()]
    history.edit(request.user, still.site_id, still.site.revision, f"As in the still of {still.name}", "", operations)
    return 204, None


@router.get("/stills/{uuid:still_id}/picture", include_in_schema=False)
def get_picture(request: SignedInRequest, still_id: UUID, fetch: bool = False) -> FileResponse:
    """The picture as it is so far, PNG. :param fetch: whether it is to be saved."""
    still = owned_still(request, still_id)
    response = _file(still, still.picture, ".png", "image/png", fetch)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.get("/stills/{uuid:still_id}/layers", include_in_schema=False)
def get_layers(request: SignedInRequest, still_id: UUID) -> FileResponse:
    """All layers of light as they were kept last, OpenEXR."""
    still = owned_still(request, still_id)
    return _file(still, still.film, ".exr", "image/x-exr", True)


def _file(still: Still, name: str, ending: str, kind: str, fetch: bool) -> FileResponse:
    if not name or not default_storage.exists(name):
        raise Problem("There is no picture of it yet.", status=404)
    stem = "".join(letter if letter.isalnum() else "-" for letter in still.name.lower()).strip("-") or "still"
    filename = f"{stem}-{still.width}x{still.height}{ending}"
    return FileResponse(default_storage.open(name), as_attachment=fetch, filename=filename, content_type=kind)
