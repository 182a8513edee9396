"""Dropping through the API: started, watched, kept as an edit, dropped anew, and refused where it cannot be."""

from __future__ import annotations

from unittest.mock import patch

import numpy as np
from django.test import TransactionTestCase
from helpers import arrays_of, edit, replace, send, signed_in, site_of, user

from jobs.kinds.drop import Drop
from jobs.models import Job
from jobs.queue import perform


class DropTests(TransactionTestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def ask(self, number: int = 3, item: str = "plank", heap: str = "heap-1", **drop: object):
        """Ask for a drop over the middle of the site."""
        body = {
            "heap": heap,
            "name": "Heap",
            "placement": {"position": [-0.5, 0.1, 0]},
            "drop": {"mix": [{"item": item, "number": number}], "radius": 0.3, **drop},
        }
        return send(self.client, "post", f"{self.base}/drops", body)

    def structures(self) -> list[dict]:
        self.site.refresh_from_db()
        return self.site.document["structures"]

    def test_a_heap_lands_on_the_site_and_can_be_undone(self) -> None:
        job = self.ask().json()
        self.assertEqual((job["kind"], job["state"]), ("drop", "waiting"))
        perform(job["id"])
        done = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual(done["state"], "done", done["message"])
        self.assertEqual(done["message"], "3 things lie in a heap.")
        self.assertLess(done["result"]["overlap"], 0.005)
        heap = self.structures()[-1]
        self.assertEqual((heap["id"], heap["source"]["kind"], len(heap["source"]["pieces"])), ("heap-1", "heap", 3))
        answer = send(self.client, "post", f"{self.base}/undo", {"revision": self.site.revision})
        self.assertEqual(answer.json()["redo"], "Drop Heap")
        self.assertEqual(len(self.structures()), 1)

    def test_a_heap_is_dropped_anew_in_its_place(self) -> None:
        perform(self.ask().json()["id"])
        first = self.structures()[-1]["source"]["pieces"]
        perform(self.ask(number=4, seed=9).json()["id"])
        self.assertEqual(len(self.structures()), 2)
        pieces = self.structures()[-1]["source"]["pieces"]
        self.assertEqual(len(pieces), 4)
        self.assertNotEqual(pieces[0], first[0])

    def test_it_comes_on_top_of_what_was_edited_meanwhile(self) -> None:
        job = self.ask().json()
        self.assertEqual(edit(self.client, self.site, 1, replace("/water/level", -0.5)).status_code, 200)
        perform(job["id"])
        self.assertEqual(self.structures()[-1]["id"], "heap-1")
        self.assertEqual(self.site.document["water"]["level"], -0.5)

    def test_it_is_watched_while_it_falls(self) -> None:
        job = self.ask(number=2).json()
        shapes, meta = arrays_of(self.client.get(f"/api/jobs/{job['id']}/falling"))
        self.assertEqual((meta["shapes"], shapes["shape"].tolist()), (2, [0, 1]))
        self.assertGreater(len(shapes["0/index"]), 30)
        frames = []

        def keep(done, total, doing, kept=frames):  # type: ignore[no-untyped-def]
            kept.append((done, total, doing))

        entry = Job.objects.get(pk=job["id"])
        with patch("jobs.kinds.drop._FRAME_EVERY", 0.0):
            Drop().do(entry, keep)
        self.assertIn("1 of 2 have fallen", [doing for _, _, doing in frames])
        self.assertIn("All have fallen; waiting until they rest", [doing for _, _, doing in frames])
        self.assertEqual(self.client.get(f"/api/jobs/{job['id']}/frame").status_code, 204)

    def test_a_frame_tells_where_things_are(self) -> None:
        job = Job.objects.get(pk=self.ask(number=1).json()["id"])
        self.assertTrue(job.begin())
        found = []

        def look(done: int, total: int, doing: str) -> None:
            if job.frame:
                found.append(arrays_of(self.client.get(f"/api/jobs/{job.pk}/frame"))[0])

        with patch("jobs.kinds.drop._FRAME_EVERY", 0.0):
            Drop().do(job, look)
        self.assertGreater(len(found), 3)
        heights = [frame["position"][0, 1] for frame in found]
        self.assertGreater(heights[0], heights[-1])
        np.testing.assert_allclose(np.linalg.norm(found[-1]["rotation"], axis=1), 1, atol=1e-5)

    def test_what_cannot_fall_is_refused_by_field_and_nothing_changes(self) -> None:
        for given, field in (
            (self.ask(item="kettle"), "drop/mix/0/item"),
            (self.ask(item="fern"), "drop/mix/0/item"),
            (self.ask(item="dead_leaves"), "drop/mix/0/item"),
            (self.ask(number=0), "drop/mix/0/number"),
            (self.ask(radius=500), "drop/radius"),
            (self.ask(heap="No such id!"), "heap"),
        ):
            self.assertEqual(given.status_code, 422, field)
            self.assertIn(field, [one["field"].removeprefix("wanted/") for one in given.json()["fields"]])
        self.assertEqual(self.ask(heap="crates").status_code, 422)
        self.assertEqual(len(self.structures()), 1)
        self.assertEqual(Job.objects.count(), 0)

    def test_a_drop_beside_the_site_fails_in_words(self) -> None:
        body = {"heap": "far", "name": "Far", "placement": {"position": [60, 0, 0]}, "drop": {"radius": 0.3}}
        job = send(self.client, "post", f"{self.base}/drops", body).json()
        perform(job["id"])
        failed = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual((failed["state"], len(self.structures())), ("failed", 1))
        self.assertIn("Move the area onto the ground", failed["message"])

    def test_others_see_nothing_of_it(self) -> None:
        job = self.ask(number=1).json()
        other = signed_in(user("bob"))
        for what in ("falling", "frame"):
            self.assertEqual(other.get(f"/api/jobs/{job['id']}/{what}").status_code, 404)
        self.assertEqual(send(other, "post", f"{self.base}/drops", {}).status_code, 422)


class SceneTests(TransactionTestCase):
    def test_glow_and_extent_are_told(self) -> None:
        ada = user("ada")
        client = signed_in(ada)
        site = site_of(ada)
        sign = {"id": "sign", "name": "Sign", "source": {"kind": "made", "maker": {"kind": "sign", "glow": 4}}}
        self.assertEqual(edit(client, site, 1, {"op": "add", "path": "/structures/-", "value": sign}).status_code, 200)
        base = f"/api/sites/{site.pk}"
        scene = client.get(f"{base}/scene").json()
        crates, lit = (next(one for one in scene["surfaces"] if one["id"] == id) for id in ("crates", "sign"))
        self.assertEqual((crates["glows"], lit["glows"]), (False, True))
        self.assertLess(crates["low"][0], crates["high"][0])
        self.assertEqual(lit["grades"][lit["parts"].index("letters")]["glow"], 4)
        arrays, _ = arrays_of(client.get(f"{base}/surfaces/sign/mesh?key={lit['mesh']}"))
        self.assertEqual(set(np.unique(arrays["glow"])), {0.0, 4.0})
        self.assertNotIn("glow", arrays_of(client.get(f"{base}/surfaces/crates/mesh?key={crates['mesh']}"))[0])
