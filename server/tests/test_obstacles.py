"""What is seen by its shadow alone: it is shown as that, and nothing else reckons with it."""

from __future__ import annotations

from typing import Any

from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, signed_in, user

from cenote.derive.fields import MeasuredField
from cenote.derive.graph import Graph
from cenote.signals.sky import SkyExposure
from cenote.site.document import Shot
from cenote.still.studio import Studio
from cenote.still.tracing import Picture
from sites.history import parsed
from sites.models import Site
from store.blobs import shared_cache


class ObstacleTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def change(self, operation: dict[str, Any]) -> None:
        revision = Site.objects.get(pk=self.site.pk).revision
        self.assertEqual(edit(self.client, self.site, revision, operation).status_code, 200)

    def graph(self) -> Graph:
        return Graph(parsed(Site.objects.get(pk=self.site.pk).document), shared_cache())

    def test_it_is_no_surface_but_its_shape_is_told(self) -> None:
        before = self.client.get(f"{self.base}/scene").json()
        self.assertEqual(before["obstacles"], [])
        self.change(replace("/structures/0/only_shadow", True))
        scene = self.client.get(f"{self.base}/scene").json()
        self.assertEqual([one["id"] for one in scene["surfaces"]], ["ground"])
        (entry,) = scene["obstacles"]
        crates = next(one for one in before["surfaces"] if one["id"] == "crates")
        self.assertEqual((entry["id"], entry["matrix"]), ("crates", crates["matrix"]))
        answer = self.client.get(f"{self.base}/surfaces/crates/mesh", {"key": entry["mesh"]})
        self.assertEqual(len(arrays_of(answer)[0]["index"]), 3 * crates["triangles"])

    def test_nothing_is_measured_against_it_as_if_it_were_not_there(self) -> None:
        self.change(replace("/structures/0/only_shadow", True))
        field = MeasuredField("ground", SkyExposure())
        shaded = self.graph().key(field)
        self.change(replace("/structures/0/shown", False))
        self.assertEqual(self.graph().key(field), shaded)

    def test_in_a_still_it_keeps_light_off_and_is_not_looked_at(self) -> None:
        self.change(replace("/structures/0/only_shadow", True))
        graph = self.graph()
        shot: Shot = graph.document.shots[0]
        pieces = Studio(graph, shot, Picture(30, 20)).scene().pieces
        unseen = [one for one in pieces if not one.seen]
        self.assertEqual([len(one.faces) > 10 for one in unseen], [True])
        self.assertLess(unseen[0].colours.max(), 0.05)
        self.assertFalse(any("crates" in one.skin for one in pieces))
