"""Getting a fresh process ready: what the first visitor would otherwise wait for."""

from __future__ import annotations

import logging
import threading
import time

from django.db import connection

from cenote.derive.graph import Graph
from cenote.derive.items import shown_scatters
from cenote.derive.maps import SurfaceMaps
from cenote.derive.planting import LayerPlacements
from cenote.derive.surfaces import ObjectCells, ObjectShape
from cenote.derive.wanted import fields_of_site
from cenote.site.document import SiteDocument

log = logging.getLogger("cenote.warm")


_SITES = 3
# Seconds after which the sites are read that nobody is likely to open first: until then the latest has the machine.
_LATER = 45


def warm() -> None:
    """Load the compiled kernels and the kit, and read the latest sites into memory."""
    from sites.models import Site

    from .vocabulary import vocabulary

    try:
        vocabulary()
        for row, site in enumerate(Site.objects.filter(deleted=None).order_by("-modified")[:_SITES]):
            if row == 1:
                time.sleep(_LATER)
            _read(SiteDocument.model_validate(site.document))
    except Exception:
        log.warning("could not get ready ahead", exc_info=True)
    finally:
        connection.close()


def _read(document: SiteDocument) -> None:
    """Have in memory what a page that opens the site asks for. Nothing is measured here: that is for jobs."""
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


def warm_in_background() -> None:
    """Do it while the server already answers."""
    threading.Thread(target=warm, name="warm", daemon=True).start()
