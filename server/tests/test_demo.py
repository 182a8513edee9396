"""The demo account and its site: made once, and left alone for ever after."""

from __future__ import annotations

from io import StringIO
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import TestCase
from helpers import signed_in, small_document

from cenote.derive.graph import Graph
from cenote.derive.wanted import fields_of_site
from cenote.geometry.pose import Placement
from cenote.site.document import SiteDocument
from config.management.commands.make_ready import PASSWORD, USER
from jobs.models import Job
from sites.models import Site
from store.blobs import shared_cache


class DemoTests(TestCase):
    def ready(self, measured: bool = False) -> str:
        out, small = StringIO(), SiteDocument.model_validate(small_document())
        with (
            patch("cenote.site.tallow_lock.tallow_lock", return_value=small),
            patch("cenote.site.gravel_reach.gravel_reach", return_value=small),
            patch("cenote.site.bell_after_rain.bell_after_rain", return_value=small),
        ):
            call_command("make_ready", measured=measured, stdout=out)
        return out.getvalue()

    def test_made_once_and_never_changed(self) -> None:
        self.assertIn("The demo sites are ready", self.ready(measured=True))
        self.assertEqual({site.name for site in Site.objects.all()}, {"Tallow Lock", "Bell after rain", "Gravel reach"})
        site = Site.objects.get(name="Tallow Lock")
        self.assertEqual((site.name, site.owner.username), ("Tallow Lock", USER))
        self.assertTrue(site.owner.check_password(PASSWORD))
        self.assertTrue(site.thumbnail)
        site.name = "Mine now"
        site.save()
        self.assertEqual(self.ready(), "")
        self.assertEqual(Site.objects.get(pk=site.pk).name, "Mine now")
        Site.objects.all().delete()
        self.ready()
        self.assertFalse(Site.objects.exists(), "what was deleted stays deleted")

    def test_all_is_measured_ahead_as_it_is_stored(self) -> None:
        # As code writes it: a size that is left out is a whole number, and the database knows no zero below zero.
        small = SiteDocument.model_validate(small_document())
        crates = small.structures[0].model_copy(update={"placement": Placement(position=(-0.0, 0.0, 1.0))})
        written = small.model_copy(update={"structures": (crates,)})
        with (
            patch("jobs.kinds.prepare.thumbnail"),
            patch("cenote.site.tallow_lock.tallow_lock", return_value=written),
            patch("cenote.site.gravel_reach.gravel_reach", return_value=small),
            patch("cenote.site.bell_after_rain.bell_after_rain", return_value=small),
        ):
            call_command("make_ready", measured=True, stdout=StringIO())
        document = SiteDocument.model_validate(Site.objects.get(name="Tallow Lock").document)
        graph = Graph(document, shared_cache())
        self.assertEqual(graph.missing(*fields_of_site(graph)), [])

    def test_the_page_can_be_used_before_anything_is_measured(self) -> None:
        with patch("jobs.kinds.prepare.Prepare.do", side_effect=AssertionError("it was waited for")):
            self.assertIn("measured while you look at them", self.ready())
        jobs = Job.objects.filter(kind="prepare")
        self.assertEqual(
            [job.site.name for job in jobs.order_by("created")], ["Tallow Lock", "Bell after rain", "Gravel reach"]
        )
        site = Site.objects.get(name="Tallow Lock")
        client = signed_in(site.owner)
        self.assertEqual(client.get(f"/api/sites/{site.pk}/scene").status_code, 200)

    def test_one_that_is_cut_off_is_done_whole_the_next_time(self) -> None:
        with (
            self.assertRaises(KeyboardInterrupt),
            patch("sites.models.Site.objects.create", side_effect=KeyboardInterrupt),
        ):
            self.ready()
        self.assertFalse(get_user_model().objects.exists())
        self.ready()
        self.assertEqual(Site.objects.count(), 3)

    def test_no_account_but_the_demo_account_is_made(self) -> None:
        self.ready()
        self.assertEqual([user.username for user in get_user_model().objects.all()], [USER])
        self.assertFalse(get_user_model().objects.get().is_superuser)
