"""Workshops of sites: of what is saved, and of changes on top of it that are not."""

from __future__ import annotations

from functools import lru_cache
from uuid import UUID

from cenote.derive.workshop import Workshop
from config.security import SignedInRequest
from sites.api import Operation
from sites.history import owned_site, parsed, patched
from sites.models import Site

from .store import shared_cache


class _Saved:
    """The workshop of one revision of a site: a page that opens asks for dozens of things of it."""

    def __init__(self) -> None:
        self._workshop: Workshop | None = None

    def of(self, site: Site) -> Workshop:
        """The workshop, made when it is first asked for."""
        if self._workshop is None:
            self._workshop = Workshop(parsed(site.document), shared_cache())
        return self._workshop


@lru_cache(maxsize=8)
def _saved(site_id: UUID, revision: int) -> _Saved:
    return _Saved()


def workshop_of(
    request: SignedInRequest, site_id: UUID, operations: list[Operation] | None = None
) -> tuple[Site, Workshop]:
    """A site of the user's, and the workshop of its document with operations on top."""
    site = owned_site(request.user, site_id)
    if operations:
        _, document = patched(site.document, [operation.as_patch() for operation in operations])
        return site, Workshop(document, shared_cache())
    return site, _saved(site.pk, site.revision).of(site)
