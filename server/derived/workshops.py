"""Workshops of sites: of what is saved, and of changes on top of it that are not."""

from __future__ import annotations

from functools import cached_property, lru_cache
from typing import Any
from uuid import UUID

from cenote.derive.surface import Surface
from cenote.derive.workshop import Workshop
from cenote.masks.where import Where
from cenote.scatter.layer import Scatter
from config.security import SignedInRequest
from jobs.models import Job
from jobs.queue import start
from sites.api import Operation
from sites.errors import Problem
from sites.history import changed, owned_site, parsed
from sites.models import Site

from .store import shared_cache

# Up to this many rays a missing signal is measured while the page waits; above it, by a job with progress.
_RAYS_AT_ONCE = 1_500_000
# Pages that lag behind may still ask for the revision before.
_REVISIONS = 3


class _Saved:
    """One revision of a site: a page that opens asks for dozens of things of it, and a drag changes it at each step."""

    def __init__(self, site: Site, before: Workshop | None) -> None:
        self.workshop = Workshop(parsed(site.document), shared_cache(), before=before)

    @cached_property
    def _document(self) -> dict[str, Any]:
        return self.workshop.document.model_dump(mode="json")

    def with_changes(self, operations: list[dict[str, Any]]) -> Workshop:
        """The workshop of a change that is not saved."""
        return Workshop(changed(self._document, operations), shared_cache(), before=self.workshop)


class _Revisions:
    """The latest revisions of a site. A drag is saved every second, and most of the site is the same each time."""

    def __init__(self) -> None:
        self._saved: dict[int, _Saved] = {}

    def of(self, site: Site) -> _Saved:
        """A revision; its workshop is made when it is first asked for."""
        found = self._saved.get(site.revision)
        if found is None:
            kept = sorted(self._saved.items())[-(_REVISIONS - 1) :]
            found = _Saved(site, kept[-1][1].workshop if kept else None)
            self._saved = dict(kept) | {site.revision: found}
        return found


@lru_cache(maxsize=8)
def _revisions(site_id: UUID) -> _Revisions:
    return _Revisions()


def workshop_of(
    request: SignedInRequest, site_id: UUID, operations: list[Operation] | None = None
) -> tuple[Site, Workshop]:
    """A site of the user's, and the workshop of its document with operations on top."""
    site = owned_site(request.user, site_id)
    saved = _revisions(site.pk).of(site)
    if operations:
        return site, saved.with_changes([operation.as_patch() for operation in operations])
    return site, saved.workshop


def surface_of(workshop: Workshop, id: str) -> Surface:
    """A surface of a site.

    :raises Problem: 404 if there is none of that id.
    """
    try:
        return workshop.surface(id)
    except KeyError as error:
        raise Problem(f"There is no surface “{id}” to show ({error.args[0]}).", status=404) from None


def scatter_of(workshop: Workshop, layer_id: str) -> Scatter:
    """A scatter layer of a site.

    :raises Problem: 404 if there is none of that id.
    """
    for layer in workshop.document.planting:
        if layer.id == layer_id:
            return layer
    raise Problem(f"There is no scatter layer “{layer_id}”.", status=404)


def measured(site: Site, workshop: Workshop, requests: list[tuple[str, Where]]) -> Job | None:
    """Make sure of the signals that masks ask for: at once where that is little, else by a job, which is given back."""
    missing = workshop.unmeasured(requests)
    rays = sum(len(workshop.cells(workshop.surface(id)).ys) * 64 for id, _ in missing)
    if rays <= _RAYS_AT_ONCE:
        workshop.measure(missing, lambda done, total, what: None)
        return None
    return start(Job.Kind.MEASURE, site, target=f"revision {site.revision}")
