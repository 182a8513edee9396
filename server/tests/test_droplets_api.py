"""Drops of water as pages are told of them: their meshes, what they cost, why they are there, and files."""

from __future__ import annotations

import itertools
import os

import numpy as np
from django.test import TestCase
from helpers import arrays_of, edit, measured_site_of, replace, send, signed_in, user

from cenote.derive.droplets import DropletMesh
from cenote.derive.graph import Graph
from cenote.export.site_glb import export_glb
from cenote.site.document import SiteDocument
from jobs.models import Job
from jobs.queue import perform
from store.blobs import shared_cache

# What one test makes is kept for all: each has drops that nobody else has asked for.
_seeds = itertools.count(1)

LAYER = {"id": "rain", "name": "Rain", "droplets": {"kind": "beads", "number": 1.5}, "surfaces": ["crates"]}


class DropletTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"
        own = LAYER | {"seed": (os.getpid() * 31 + next(_seeds)) % 9999}
        edit(self.client, self.site, 1, {"op": "add", "path": "/droplets/-", "value": own})

    def scene(self) -> dict:
        return self.client.get(f"{self.base}/scene").json()

    def measured(self) -> dict:
        self.scene()
        for job in Job.objects.filter(kind="measure", state=Job.State.WAITING):
            perform(str(job.pk))
        return self.scene()

    def test_a_worker_makes_them_and_the_scene_names_them(self) -> None:
        (entry,) = self.scene()["droplets"]
        self.assertEqual((entry["layer"], entry["surface"], entry["mesh"]), ("rain", "crates", ""))
        self.assertGreater(entry["expected"], 100)
        (entry,) = self.measured()["droplets"]
        address = f"{self.base}/droplets/rain/on/crates"
        answer = self.client.get(address, {"key": entry["mesh"]})
        self.assertIn("immutable", answer["Cache-Control"])
        arrays, meta = arrays_of(answer)
        self.assertTrue(0 < meta["widest"] < 0.03)
        self.assertEqual(arrays["position"].shape, arrays["normal"].shape)
        self.assertLess(int(arrays["index"].max()), len(arrays["position"]))
        self.assertEqual(self.client.get(address, {"key": "older"})["Cache-Control"], "no-store")

    def test_what_they_cost_is_told_by_surface(self) -> None:
        self.assertEqual(self.client.get(f"{self.base}/droplets/rain/cost").json(), [])
        self.measured()
        (cost,) = self.client.get(f"{self.base}/droplets/rain/cost").json()
        self.assertEqual(cost["surface"], "crates")
        self.assertGreater(cost["still"], cost["triangles"])
        self.assertGreater(cost["triangles"], 12 * cost["drops"])
        self.assertTrue(cost["volume"] > 0 and 0 < cost["largest"] < 30)

    def test_what_is_hidden_dry_or_nowhere_has_none(self) -> None:
        self.measured()
        edit(self.client, self.site, 2, replace("/droplets/0/shown", False))
        self.assertEqual(self.scene()["droplets"], [])
        answer = self.client.get(f"{self.base}/droplets/rain/cost")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("rain", answer.json()["message"])
        self.assertEqual(self.client.get(f"{self.base}/droplets/rain/on/ground").status_code, 404)
        edit(self.client, self.site, 3, replace("/droplets/0/shown", True))
        edit(self.client, self.site, 4, replace("/climate/damp", 0))
        self.measured()
        (cost,) = self.client.get(f"{self.base}/droplets/rain/cost").json()
        self.assertEqual((cost["drops"], cost["triangles"]), (0, 0))

    def test_wrong_values_are_refused_by_their_field(self) -> None:
        def refused(value: dict) -> list[str]:
            answer = edit(self.client, self.site, 2, {"op": "add", "path": "/droplets/-", "value": value})
            self.assertEqual(answer.status_code, 422)
            return [one["field"] for one in answer.json()["fields"]]

        wrong = LAYER | {"id": "b", "droplets": {"kind": "beads", "sizes": [4, 1]}}
        self.assertTrue(any("droplets/1" in field for field in refused(wrong)))
        wrong = LAYER | {"id": "b", "droplets": {"kind": "runs", "after": 9000}}
        self.assertTrue(any(field.endswith("after") for field in refused(wrong)))

    def test_the_mask_is_reported_and_why_here_tells(self) -> None:
        card = {"id": "c", "signal": {"kind": "slope"}, "starts_at": 60, "full_at": 30}
        edit(self.client, self.site, 2, replace("/droplets/0/where", {"cards": [card]}))
        self.measured()
        shot = {"id": "s", "name": "S", "position": [3, 2, 3], "target": [0, 0.5, 0]}
        body = {"layer": "rain", "shot": shot, "width": 64, "height": 40}
        _, meta = arrays_of(send(self.client, "post", f"{self.base}/where", body))
        self.assertTrue(0 < meta["covered"] < meta["area"])
        asked = {"surface": "crates", "position": [0.7, 0.4, 0.0], "layers": ["rain"]}
        answer = send(self.client, "post", f"{self.base}/why", asked).json()
        self.assertEqual(answer["layers"][0]["layer"], "rain")

    def test_files_have_them_as_clear_water(self) -> None:
        self.measured()
        self.site.refresh_from_db()
        graph = Graph(SiteDocument.model_validate(self.site.document), shared_cache())
        content = export_glb(graph, "instanced", 0.5, lambda *_: None)
        self.assertIn(b"KHR_materials_transmission", content)
        self.assertIn(b"Rain on", content)
        self.assertGreater(len(graph.get(DropletMesh("rain", "crates", True)).faces), 0)
        self.assertEqual(np.isfinite(graph.get(DropletMesh("rain", "crates", True)).positions).all(), True)
