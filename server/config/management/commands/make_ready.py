"""Brings the database up to date, and makes the demo account and its sites, once; changes nothing that is there."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import BaseCommand

USER, PASSWORD = "demo", "tallow-lock"


class Command(BaseCommand):
    """``manage.py make_ready``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Make what is missing, and measure it ahead so that the first opening is quick."""
        call_command("migrate", verbosity=0)
        call_command("tidy_store", verbosity=0)
        user, fresh = get_user_model().objects.get_or_create(username=USER)
        if fresh:
            user.set_password(PASSWORD)
            user.save()
            self._make_sites(user)

    def _make_sites(self, user: Any) -> None:
        # Only here, for the core takes seconds to load and most starts do not need it.
        from cenote.derive.coats import CoatMasks
        from cenote.derive.graph import Graph
        from cenote.derive.items import ItemPack, StandIn
        from cenote.derive.maps import SurfaceMaps
        from cenote.derive.surfaces import ObjectShape
        from cenote.derive.wanted import fields_of_site
        from cenote.kit.base import DETAILS
        from cenote.site.bell_after_rain import bell_after_rain
        from cenote.site.document import SiteDocument
        from cenote.site.gravel_reach import gravel_reach
        from cenote.site.tallow_lock import tallow_lock
        from jobs.pictures import thumbnail
        from sites.models import Site
        from store.blobs import shared_cache

        self.stdout.write("Building the kit and measuring the demo sites (about four minutes, once) …")
        # The last one made is the first on the page.
        for name, make in (
            ("Gravel reach", gravel_reach),
            ("Bell after rain", bell_after_rain),
            ("Tallow Lock", tallow_lock),
        ):
            site = Site.objects.create(owner=user, name=name, document=make().model_dump(mode="json"))
            # Measured as it will be read: keys tell 1 from 1.0, and the database knows no zero below zero.
            site.refresh_from_db()
            document = SiteDocument.model_validate(site.document)
            graph = Graph(document, shared_cache())
            graph.complete(fields_of_site(graph), lambda done, total, what: None)
            for id in document.surface_ids():
                shape = graph.get(ObjectShape(id))
                for level in (shape.coarsest_level, shape.level_for(document.usual_texel)):
                    graph.get(SurfaceMaps(id, level))
            for layer in document.planting:
                for item in layer.kinds():
                    for detail in DETAILS:
                        graph.get(ItemPack(item, detail))
                    graph.get(StandIn(item))
                graph.get(CoatMasks(layer.id))
            thumbnail(str(site.pk))
        self.stdout.write("The demo sites are ready.")
