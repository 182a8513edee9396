"""Getting a fresh process ready: what the first visitor would otherwise wait for."""

from __future__ import annotations

import logging
import threading
import time
from typing import Any

from django.db import connection

from cenote.derive.graph import Graph
from cenote.derive.items import shown_scatters
from cenote.derive.maps import PreviewMaps, SurfaceMaps
from cenote.derive.planting import LayerPlacements
from cenote.derive.surfaces import ObjectCells, ObjectShape
from cenote.derive.wanted import fields_of_site
from cenote.site.document import SiteDocument
from jobs.events import HEARD
from sites.announce import announce_opened
from sites.models import Site

log = logging.getLogger("cenote.warm")


_SITES = 3
# Seconds after which the sites are read that nobody is likely to open first: until then the latest has the machine.
_LATER = 45


def warm() -> None:
    """Load the compiled kernels and the kit, and read the latest sites into memory."""
    from .vocabulary import vocabulary

    try:
        vocabulary()
        for row, site in enumerate(Site.objects.filter(deleted=None).order_by("-modified")[:_SITES]):
            if row == 1:
                time.sleep(_LATER)
            _read(SiteDocument.model_validate(site.document), drags=row == 0)
    except Exception:
        log.warning("could not get ready ahead", exc_info=True)
    finally:
        connection.close()


def _read(document: SiteDocument, drags: bool) -> None:
    """Have in memory what a page that opens the site asks for, and what a first drag on it does. Nothing is measured here: that is for jobs."""
    from store.blobs import shared_cache

    from .packs.kit import KitPack
    from .packs.surfaces import MeshPack

    graph = Graph(document, shared_cache())
    ids = document.surface_ids()
    for id in ids:
        graph.get(MeshPack(id))
    layers = shown_scatters(graph)
    if layers:
        graph.get(KitPack(True))
    if graph.missing(*fields_of_site(graph)):
        return
    for id in ids:
        graph.get(ObjectCells(id))
        graph.get(SurfaceMaps(id, graph.get(ObjectShape(id)).coarsest_level))
    for layer in layers:
        graph.get(LayerPlacements(layer.id))
    # What the first drag on it would otherwise wait for: signals that are computed where they are asked for.
    for id in ids if drags else ():
        graph.get(PreviewMaps(id, -1))


class ReadAhead:
    """Gets sites ready for a first drag once their pages have what they asked for, one at a time.

    :param waits: seconds from the opening on. Nothing is done before :attr:`on` is set, which a server does at its start.
    """

    def __init__(self, waits: float = 6.0) -> None:
        self.on, self._waits = False, waits
        self._done: dict[Any, int] = {}
        self._lock = threading.Lock()

    def opened(self, site: Site) -> threading.Thread | None:
        """A page has opened a site. :returns: what gets it ready, if that was not done before."""
        if not self.on or self._done.get(site.pk) == site.revision:
            return None
        first = site.pk not in self._done
        self._done[site.pk] = site.revision
        thread = threading.Thread(target=self._read, args=(site.document,), name="read ahead", daemon=True)
        thread.start()
        if first:
            # A drag may come to any of a server's processes.
            announce_opened(site.pk)
        return thread

    def heard(self, told: dict[str, Any]) -> None:
        """A notice of another process, or of this one: get ready for what was opened there."""
        if self.on and "opened" in told:
            threading.Thread(target=self._elsewhere, args=(told["opened"],), name="read ahead", daemon=True).start()

    def _elsewhere(self, site_id: str) -> None:
        try:
            site = Site.objects.filter(pk=site_id, deleted=None).first()
            # Once is enough: what changes later is little, and whoever asks for it here makes it.
            if site is None or site.pk in self._done:
                return
            self._done[site.pk] = site.revision
        finally:
            connection.close()
        self._read(site.document)

    def _read(self, document: Any) -> None:
        time.sleep(self._waits)
        try:
            with self._lock:
                _read(SiteDocument.model_validate(document), drags=True)
        except Exception:
            log.warning("could not read a site ahead", exc_info=True)
        finally:
            connection.close()


read_ahead = ReadAhead()


def warm_in_background() -> None:
    """Do it while the server already answers."""
    read_ahead.on = True
    HEARD.append(read_ahead.heard)
    threading.Thread(target=warm, name="warm", daemon=True).start()
