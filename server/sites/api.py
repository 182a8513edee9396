"""Sites: list, make, rename, duplicate, delete, edit, undo, redo, and bring meshes in."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from django.core.files.storage import default_storage
from django.http import HttpResponse
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from api.errors import Problem
from api.security import SignedInRequest
from cenote.site.document import SiteDocument
from cenote.site.starters import first_shot

from . import history
from .announce import pictures_wanted, site_changed
from .models import Site

router = Router(tags=["sites"])


class SiteSummary(Schema):
    """A site in a list."""

    id: UUID
    name: str
    modified: datetime
    revision: int
    thumbnail: str = Field(description="Address of its picture; empty while there is none.")
    structures: int
    layers: int


class SiteName(Schema):
    """A name for a site."""

    name: str = Field(min_length=1, max_length=120, pattern=r"\S")


class SiteState(Schema):
    """A site with its document."""

    id: UUID
    name: str
    revision: int
    document: SiteDocument
    undo: str | None = Field(description="What an undo would take back; null for nothing.")
    redo: str | None = Field(description="What a redo would bring again; null for nothing.")


class Operation(Schema):
    """One operation of a JSON Patch (RFC 6902)."""

    op: Literal["add", "remove", "replace"]
    path: str = Field(max_length=400, pattern=r"^(/.*)?$")
    value: Any = None

    def as_patch(self) -> dict[str, Any]:
        """The operation as the standard writes it."""
        return {"op": self.op, "path": self.path} | ({} if self.op == "remove" else {"value": self.value})


class EditRequest(Schema):
    """An edit on top of a revision."""

    revision: int
    label: str = Field(min_length=1, max_length=160)
    gesture: str = Field("", max_length=64)
    request: UUID | None = Field(None, description="Tells it from others: a repeat is answered and not applied again.")
    operations: list[Operation] = Field(min_length=1, max_length=1000)


class StepRequest(Schema):
    """An undo or redo on top of a revision."""

    revision: int
    request: UUID | None = Field(None, description="Tells it from others: a repeat is answered and not applied again.")


def _summary(site: Site) -> SiteSummary:
    document = site.document
    return SiteSummary(
        id=site.pk,
        name=site.name,
        modified=site.modified,
        revision=site.revision,
        thumbnail=f"/api/sites/{site.pk}/thumbnail?key={site.thumbnail}" if site.thumbnail else "",
        structures=len(document.get("structures", [])),
        layers=len(document.get("planting", [])) + len(document.get("weather", [])),
    )


def state_of(site: Site) -> SiteState:
    """A site as the page wants it."""
    labels = {entry.number: entry.label for entry in site.edits.filter(number__in=(site.head, site.head + 1))}
    return SiteState(
        id=site.pk,
        name=site.name,
        revision=site.revision,
        document=history.parsed(site.document),
        undo=labels.get(site.head),
        redo=labels.get(site.head + 1),
    )


@router.get("/sites", response=list[SiteSummary])
def list_sites(request: SignedInRequest) -> list[SiteSummary]:
    """The user's sites, latest first."""
    return [_summary(site) for site in Site.objects.filter(owner=request.user, deleted=None)]


@router.post("/sites", response=SiteSummary)
def create_site(request: SignedInRequest, name: SiteName) -> SiteSummary:
    """Make an empty site: uneven ground and a first shot."""
    document = SiteDocument(shots=(first_shot(),)).model_dump(mode="json")
    site = Site.objects.create(owner=request.user, name=name.name.strip(), document=document)
    site_changed.send(Site, site=site, fresh=True)
    return _summary(site)


@router.get("/sites/{uuid:site_id}", response=SiteState)
def get_site(request: SignedInRequest, site_id: UUID) -> SiteState:
    """One site."""
    return state_of(history.owned_site(request.user, site_id))


@router.patch("/sites/{uuid:site_id}", response=SiteSummary)
def rename_site(request: SignedInRequest, site_id: UUID, name: SiteName) -> SiteSummary:
    """Give a site another name."""
    site = history.owned_site(request.user, site_id)
    site.name = name.name.strip()
    site.save(update_fields=["name", "modified"])
    return _summary(site)


@router.post("/sites/{uuid:site_id}/duplicate", response=SiteSummary)
def duplicate_site(request: SignedInRequest, site_id: UUID) -> SiteSummary:
    """Copy a site; the copy begins with a history of its own."""
    site = history.owned_site(request.user, site_id)
    name = f"{site.name[:112]} (copy)"
    copy = Site.objects.create(owner=request.user, name=name, document=site.document, thumbnail=site.thumbnail)
    return _summary(copy)


@router.delete("/sites/{uuid:site_id}", response={204: None})
def delete_site(request: SignedInRequest, site_id: UUID) -> tuple[int, None]:
    """Put a site away; it can be restored."""
    site = history.owned_site(request.user, site_id)
    site.deleted = timezone.now()
    site.save(update_fields=["deleted"])
    return 204, None


@router.post("/sites/{uuid:site_id}/restore", response=SiteSummary)
def restore_site(request: SignedInRequest, site_id: UUID) -> SiteSummary:
    """Bring back a deleted site."""
    site = Site.objects.filter(pk=site_id, owner=request.user).first()
    if site is None:
        raise Problem("There is no such site among yours.", status=404)
    site.deleted = None
    site.save(update_fields=["deleted"])
    return _summary(site)


@router.get("/sites/{uuid:site_id}/thumbnail", include_in_schema=False)
def get_thumbnail(request: SignedInRequest, site_id: UUID) -> HttpResponse:
    """The picture of a site."""
    site = history.owned_site(request.user, site_id)
    return _picture(site.thumbnail, "This site")


def _picture(name: str, of: str) -> HttpResponse:
    if not name or not default_storage.exists(name):
        raise Problem(f"{of} has no picture yet.", status=404)
    with default_storage.open(name) as file:
        response = HttpResponse(file.read(), content_type="image/png")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.get("/sites/{uuid:site_id}/shots/pictures", response=dict[str, str])
def list_shot_pictures(request: SignedInRequest, site_id: UUID) -> dict[str, str]:
    """The addresses of the pictures of a site's shots, by their ids; of a new shot there is none for a while."""
    site = history.owned_site(request.user, site_id)
    if not site.shot_pictures and site.document.get("shots"):
        pictures_wanted.send(Site, site=site)
    return {id: f"/api/sites/{site.pk}/shots/{id}/picture?key={name}" for id, name in site.shot_pictures.items()}


@router.get("/sites/{uuid:site_id}/shots/{shot_id}/picture", include_in_schema=False)
def get_shot_picture(request: SignedInRequest, site_id: UUID, shot_id: str) -> HttpResponse:
    """The picture of a shot."""
    return _picture(history.owned_site(request.user, site_id).shot_pictures.get(shot_id, ""), "This shot")


@router.post("/sites/{uuid:site_id}/edits", response=SiteState)
def edit_site(request: SignedInRequest, site_id: UUID, change: EditRequest) -> SiteState:
    """Apply an edit. It is refused with 409 if the site has moved on from the revision."""
    operations = [operation.as_patch() for operation in change.operations]
    site = history.edit(
        request.user, site_id, change.revision, change.label, change.gesture, operations, change.request
    )
    site_changed.send(Site, site=site, fresh=False)
    return state_of(site)


@router.post("/sites/{uuid:site_id}/undo", response=SiteState)
def undo(request: SignedInRequest, site_id: UUID, at: StepRequest) -> SiteState:
    """Take the last edit back."""
    site = history.step(request.user, site_id, at.revision, back=True, request=at.request)
    site_changed.send(Site, site=site, fresh=False)
    return state_of(site)


@router.post("/sites/{uuid:site_id}/redo", response=SiteState)
def redo(request: SignedInRequest, site_id: UUID, at: StepRequest) -> SiteState:
    """Bring an undone edit again."""
    site = history.step(request.user, site_id, at.revision, back=False, request=at.request)
    site_changed.send(Site, site=site, fresh=False)
    return state_of(site)
