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


class _Saved:
    """One revision of a site: a page that opens asks for dozens of things of it, and a drag changes it at each step."""

    def __init__(self) -> None:
        self._workshop: Workshop | None = None

    def workshop(self, site: Site) -> Workshop:
        """The workshop, made when it is first asked for."""
        if self._workshop is None:
            self._workshop = Workshop(parsed(site.document), shared_cache())
        return self._workshop

    def with_changes(self, site: Site, operations: list[dict[str, Any]]) -> Workshop:
        """The workshop of a change that is not saved."""
        saved = self.workshop(site)
        return Workshop(changed(self._document, operations), shared_cache(), before=saved)

    @cached_property
    def _document(self) -> dict[str, Any]:
        assert self._workshop is not None
        return self._workshop.document.model_dump(mode="json")


@lru_cache(maxsize=8)
def _saved(site_id: UUID, revision: int) -> _Saved:
    return _Saved()


def workshop_of(
    request: SignedInRequest, site_id: UUID, operations: list[Operation] | None = None
) -> tuple[Site, Workshop]:
    """A site of the user's, and the workshop of its document with operations on top."""
    site = owned_site(request.user, site_id)
    saved = _saved(site.pk, site.revision)
    if operations:
        return site, saved.with_changes(site, [operation.as_patch() for operation in operations])
    return site, saved.workshop(site)
