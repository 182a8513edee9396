"""Workshops of sites: of what is saved, and of changes on top of it that are not."""

from __future__ import annotations

from functools import cached_property, lru_cache
from typing import Any
from uuid import UUID

from cenote.derive.workshop import Workshop
from config.security import SignedInRequest
from sites.api import Operation
from sites.history import changed, owned_site, parsed
from sites.models import Site

from .store import shared_cache

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
