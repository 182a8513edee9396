"""The library: recipes that a user keeps, and takes to any of their sites."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Any, TypeVar
from uuid import UUID

from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field, ValidationError

from api.errors import Problem
from api.security import SignedInRequest
from cenote.finish.stack import Stack
from cenote.site.document import CoverLayer, SiteDocument
from cenote.site.library import CoverRecipe, fitted, recipe_of
from cenote.site.moods import SHIPPED_MOODS, Mood, mood_of
from sites import history

from .models import LibraryEntry

router = Router(tags=["library"])
MOST = 500
Told = TypeVar("Told")


class EntryName(Schema):
    """What an entry is called."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")


class KeepRequest(EntryName):
    """A layer that is to be kept."""

    site: UUID
    layer: str


class EntrySummary(Schema):
    """What is kept, and as a site can use it."""

    id: UUID
    name: str
    cover: str = Field(description="The kind of cover.")
    site: str = Field(description="The site that it came from.")
    recipe: CoverRecipe
    left_out: list[str] = Field(description="What of it the site does not have, in words.")


class MoodKeepRequest(EntryName):
    """A site whose light, air and grade are to be kept."""

    site: UUID


class MoodSummary(Schema):
    """A mood, and what it sets: fields of a document's light and air, and a finish."""

    id: str
    name: str
    help: str
    own: bool = Field(description="Whether the user kept it; others are shipped.")
    light: dict[str, Any]
    air: dict[str, Any]
    grade: Stack = Field(description="How the stills of its shots are finished.")


def _entry(request: SignedInRequest, entry_id: UUID, deleted: bool = False) -> LibraryEntry:
    found = LibraryEntry.objects.filter(owner=request.user, pk=entry_id, deleted__isnull=not deleted).first()
    if found is None:
        raise Problem("The library has no such entry; it may have been deleted.", status=404)
    return found


def _summary(entry: LibraryEntry, document: SiteDocument) -> EntrySummary:
    recipe, left_out = fitted(CoverRecipe.model_validate(entry.content), document)
    return EntrySummary(
        id=entry.pk, name=entry.name, cover=recipe.cover.kind, site=entry.site, recipe=recipe, left_out=left_out
    )


def _readable(request: SignedInRequest, kind: LibraryEntry.Kind, told: Callable[[LibraryEntry], Told]) -> list[Told]:
    """What the user keeps of a kind; what an earlier version kept in another shape stays where it is, and is not told."""
    out = []
    for entry in LibraryEntry.objects.filter(owner=request.user, deleted=None, kind=kind):
        with suppress(ValidationError):
            out.append(told(entry))
    return out


@router.get("/sites/{uuid:site_id}/library", response=list[EntrySummary])
def list_library(request: SignedInRequest, site_id: UUID) -> list[EntrySummary]:
    """What the user keeps, as one of their sites can use it."""
    document = SiteDocument.model_validate(history.owned_site(request.user, site_id).document)
    return _readable(request, LibraryEntry.Kind.COVER, lambda entry: _summary(entry, document))


@router.post("/library", response=EntrySummary)
def keep(request: SignedInRequest, wanted: KeepRequest) -> EntrySummary:
    """Keep a cover layer's recipe."""
    site = history.owned_site(request.user, wanted.site)
    document = SiteDocument.model_validate(site.document)
    layer: CoverLayer | None = next((one for one in document.weather if one.id == wanted.layer), None)
    if layer is None:
        raise Problem("There is no such cover layer on the site any more; nothing was kept.", status=404)
    _has_room(request)
    entry = LibraryEntry.objects.create(
        owner=request.user, kind=LibraryEntry.Kind.COVER, name=wanted.name.strip(), site=site.name,
        content=recipe_of(layer).model_dump(mode="json"),
    )  # fmt: skip
    return _summary(entry, document)


def _has_room(request: SignedInRequest) -> None:
    if LibraryEntry.objects.filter(owner=request.user, deleted=None).count() >= MOST:
        raise Problem(f"The library holds {MOST} entries at most. Delete one that you no longer use, and keep it then.")


def _own_mood(entry: LibraryEntry) -> MoodSummary:
    from_site = f"Kept from {entry.site}." if entry.site else "Kept."
    mood = Mood.model_validate(entry.content)
    return MoodSummary(id=str(entry.pk), name=entry.name, help=from_site, own=True, grade=mood.grade, **mood.changes())


@router.get("/moods", response=list[MoodSummary])
def list_moods(request: SignedInRequest) -> list[MoodSummary]:
    """Moods for any site: those that are shipped, then those that the user keeps."""
    shipped = [
        MoodSummary(id=one.kind, name=one.title, help=one.help, own=False, grade=one.mood.grade, **one.mood.changes())
        for one in SHIPPED_MOODS
    ]
    return shipped + _readable(request, LibraryEntry.Kind.MOOD, _own_mood)


@router.post("/moods", response=MoodSummary)
def keep_mood(request: SignedInRequest, wanted: MoodKeepRequest) -> MoodSummary:
    """Keep a site's light, air and grade as a mood."""
    site = history.owned_site(request.user, wanted.site)
    _has_room(request)
    content = mood_of(SiteDocument.model_validate(site.document)).model_dump(mode="json")
    return _own_mood(
        LibraryEntry.objects.create(
            owner=request.user, kind=LibraryEntry.Kind.MOOD, name=wanted.name.strip(), site=site.name, content=content
        )
    )


@router.patch("/library/{uuid:entry_id}", response={204: None})
def rename(request: SignedInRequest, entry_id: UUID, name: EntryName) -> tuple[int, None]:
    """Give an entry another name."""
    entry = _entry(request, entry_id)
    entry.name = name.name.strip()
    entry.save(update_fields=["name"])
    return 204, None


@router.delete("/library/{uuid:entry_id}", response={204: None})
def delete(request: SignedInRequest, entry_id: UUID) -> tuple[int, None]:
    """Delete an entry; it can be brought back. Sites that use its recipe keep their own."""
    entry = _entry(request, entry_id)
    entry.deleted = timezone.now()
    entry.save(update_fields=["deleted"])
    return 204, None


@router.post("/library/{uuid:entry_id}/restore", response={204: None})
def restore(request: SignedInRequest, entry_id: UUID) -> tuple[int, None]:
    """Bring a deleted entry back."""
    entry = _entry(request, entry_id, deleted=True)
    entry.deleted = None
    entry.save(update_fields=["deleted"])
    return 204, None
