"""Brings the database up to date, and makes the demo account and its sites, once; changes nothing that is there."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

USER, PASSWORD = "demo", "tallow-lock"


class Command(BaseCommand):
    """``manage.py make_ready``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """``--measured``: only come back once the demo sites are measured as well, which is work for jobs otherwise."""
        parser.add_argument("--measured", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make what is missing. The account and its sites are there together or not at all, wherever this is cut off."""
        call_command("migrate", verbosity=0)
        call_command("tidy_store", verbosity=0)
        if not get_user_model().objects.filter(username=USER).exists():
            with transaction.atomic():
                user = get_user_model().objects.create_user(username=USER, password=PASSWORD)
                jobs = self._make_sites(user)
            self.stdout.write("The demo sites are made; they are measured while you look at them (some minutes, once).")
            if options["measured"]:
                self._measure(jobs)

    def _make_sites(self, user: Any) -> list[Any]:
        # Only here, for the core takes seconds to load and most starts do not need it.
        from cenote.site.bell_after_rain import bell_after_rain
        from cenote.site.gravel_reach import gravel_reach
        from cenote.site.tallow_lock import tallow_lock
        from jobs.queue import start
        from sites.models import Site

        # The last one made is the first on the page, and the first that is got ready.
        sites = [
            Site.objects.create(owner=user, name=name, document=make().model_dump(mode="json"))
            for name, make in (
                ("Gravel reach", gravel_reach),
                ("Bell after rain", bell_after_rain),
                ("Tallow Lock", tallow_lock),
            )
        ]
        ready = [start("prepare", site) for site in reversed(sites)]
        for site in reversed(sites):
            start("near", site, target="near")
        return ready

    def _measure(self, jobs: list[Any]) -> None:
        from jobs.queue import perform

        for job in jobs:
            perform(job.pk)
        self.stdout.write("The demo sites are ready.")
