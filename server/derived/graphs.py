"""Graphs of sites: of what is saved, and of changes on top of it that are not."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, lru_cache
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User

from api.errors import Problem
from api.security import SignedInRequest
from cenote.derive.digest import digest
from cenote.derive.droplets import LyingDrops, drops_followed
from cenote.derive.fields import MeasuredField
from cenote.derive.graph import Graph, Lacking
from cenote.derive.sources import SourceMissing
from cenote.derive.surfaces import ObjectCells, ObjectSurface, Surface
from cenote.derive.target import Target
from cenote.scatter.layer import Scatter
from jobs.models import Job
from jobs.queue import start
from sites.api import Operation
from sites.history import changed, owned_site, parsed
from sites.models import Site
from store.blobs import shared_cache

# Up to this many rays a missing signal is measured while the page waits; above it, by a job with progress.
_RAYS_AT_ONCE = 1_500_000
_RAYS_A_CELL = 64
# The same of drops, each counted for every step that it is followed.
_DROPS_AT_ONCE = 8_000
# Pages that lag behind may still ask for the revision before.
_REVISIONS = 2


class _Saved:
    """One revision of a site: a page that opens asks for dozens of things of it, and a drag changes it at each step."""

    def __init__(self, site: Site, before: Graph | None) -> None:
        self.graph = Graph(parsed(site.document), shared_cache(), before)
        self._dragged: Graph = self.graph

    @cached_property
    def _document(self) -> dict[str, Any]:
        return self.graph.document.model_dump(mode="json")

    def with_changes(self, operations: list[dict[str, Any]], owner: User) -> Graph:
        """The graph of a change that is not saved. Most of it is as it was at the step before."""
        self._dragged = Graph(changed(self._document, operations, owner), shared_cache(), self._dragged)
        return self._dragged


class _Revisions:
    """The latest revisions of a site. A drag is saved every second, and most of the site is the same each time."""

    def __init__(self) -> None:
        self._saved: dict[int, _Saved] = {}

    def of(self, site: Site) -> _Saved:
        """A revision; its graph is made when it is first asked for."""
        found = self._saved.get(site.revision)
        if found is None:
            kept = sorted(self._saved.items())[-(_REVISIONS - 1) :]
            found = _Saved(site, kept[-1][1].graph if kept else None)
            self._saved = dict(kept) | {site.revision: found}
        return found


@lru_cache(maxsize=8)
def _revisions(site_id: UUID) -> _Revisions:
    return _Revisions()


def graph_of(request: SignedInRequest, site_id: UUID, operations: list[Operation] | None = None) -> tuple[Site, Graph]:
    """A site of the user's, and the graph of its document with operations on top."""
    site = owned_site(request.user, site_id)
    saved = _revisions(site.pk).of(site)
    if operations:
        return site, saved.with_changes([operation.as_patch() for operation in operations], request.user)
    return site, saved.graph


def key_or_none(graph: Graph, target: Target) -> str:
    """The key of a target; empty while something that it is made of is not measured."""
    try:
        return graph.key(target)
    except Lacking:
        return ""


def surface_of(graph: Graph, id: str) -> Surface:
    """A surface of a site.

    :raises Problem: 404 if there is none of that id.
    """
    try:
        surface: Surface = graph.get(ObjectSurface(id))
    except SourceMissing as error:
        raise Problem(f"There is no surface “{id}” to show ({error}).", status=404) from None
    except KeyError:
        raise Problem(f"There is no surface “{id}” to show.", status=404) from None
    return surface


def scatter_of(graph: Graph, layer_id: str) -> Scatter:
    """A scatter layer of a site.

    :raises Problem: 404 if there is none of that id.
    """
    for layer in graph.document.planting:
        if layer.id == layer_id:
            return layer
    raise Problem(f"There is no scatter layer “{layer_id}”.", status=404)


def measured(
    site: Site, graph: Graph, wanted: Sequence[Target], operations: list[Operation] | None = None
) -> Job | None:
    """Make sure of what is measured for some targets: at once where that is little, else by a job, which is given back.

    :param operations: what the graph has on top of the site: it is measured as it is asked for, not as it is saved.
    """
    missing = graph.missing(*wanted)
    if not missing:
        return None
    cells = sum(len(graph.get(ObjectCells(one.id)).ys) for one in missing if isinstance(one, MeasuredField))
    drops = sum(drops_followed(graph, one) for one in missing if isinstance(one, LyingDrops))
    if cells * _RAYS_A_CELL <= _RAYS_AT_ONCE and drops <= _DROPS_AT_ONCE:
        graph.complete(wanted, lambda done, total, what: None)
        return None
    patch = [operation.as_patch() for operation in operations or []]
    target = f"revision {site.revision}" + (f" {digest(patch)}" if patch else "")
    return start("measure", site, {"operations": patch, "revision": site.revision}, target)
