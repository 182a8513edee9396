"""Getting a fresh process ready: what the first visitor would otherwise wait for."""

from __future__ import annotations

import logging
import threading

from django.db import connection

from cenote.derive.workshop import Workshop
from cenote.site.document import SiteDocument

log = logging.getLogger("cenote.warm")


def warm() -> None:
    """Load the compiled kernels and the kit, and read the latest site into memory."""
    from sites.models import Site

    from .store import shared_cache
    from .vocabulary import vocabulary

    try:
        vocabulary()
        site = Site.objects.filter(deleted=None).order_by("-modified").first()
        if site is None:
            return
        workshop = Workshop(SiteDocument.model_validate(site.document), shared_cache())
        ids = workshop.document.surface_ids()
        # Nothing is measured here: that is for jobs.
        if workshop.unmeasured(workshop.needs(ids)):
            return
        for id in ids:
            surface = workshop.surface(id)
            workshop.cells(surface)
            workshop.maps(surface, surface.coarsest_level)
        for layer in workshop.shown_scatters():
            workshop.placements(layer)
    except Exception:
        log.warning("could not get ready ahead", exc_info=True)
    finally:
        connection.close()


def warm_in_background() -> None:
    """Do it while the server already answers."""
    threading.Thread(target=warm, name="warm", daemon=True).start()
