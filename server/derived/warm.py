"""Getting a fresh process ready: what the first visitor would otherwise wait for."""

from __future__ import annotations

import logging
import threading
import time

from django.db import connection

from cenote.derive.workshop import Workshop
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
    from .kit import kit_pack
    from .scene import mesh_arrays
    from .store import shared_cache

    workshop = Workshop(document, shared_cache())
    ids = workshop.document.surface_ids()
    for id in ids:
        mesh_arrays(workshop, workshop.surface(id))
    if list(workshop.shown_scatters()):
        kit_pack(workshop, True)
    if workshop.unmeasured(workshop.needs(ids)):
        return
    for id in ids:
        surface = workshop.surface(id)
        workshop.cells(surface)
        workshop.maps(surface, surface.coarsest_level)
    for layer in workshop.shown_scatters():
        workshop.placements(layer)


def warm_in_background() -> None:
    """Do it while the server already answers."""
    threading.Thread(target=warm, name="warm", daemon=True).start()
