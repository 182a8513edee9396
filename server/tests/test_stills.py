"""Stills: asked for, taken, gone on with, stopped, restored and deleted."""

from __future__ import annotations

import io
from typing import Any
from unittest.mock import patch

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.test import TestCase
from helpers import edit, measured_site_of, replace, send, signed_in, site_of, user
from PIL import Image

from cenote.formats.pack import unpack
from cenote.still.layers import read_layers
from cenote.still.tracing import TracingFailed
from jobs.holdings import clear_away, holdings_of
from jobs.kinds import still as still_kind
from jobs.kinds import still_share as share_kind
from jobs.models import Job
from jobs.queue import perform, start
from stills.models import Share, Still


class StillTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)

    def asked(self, site: Any, **values: Any) -> Any:
        body = {"shot": "first", "width": 48, "height": 32, "samples": 2, **values}
        return send(self.client, "post", f"/api/sites/{site.pk}/stills", body)

    def taken(self, site: Any, **values: Any) -> dict[str, Any]:
        answer = self.asked(site, **values)
        self.assertEqual(answer.status_code, 200, answer.content)
        perform(answer.json()["job"]["id"])
        (state,) = (one for one in self.listed(site) if one["id"] == answer.json()["id"])
        return state

    def listed(self, site: Any) -> list[dict[str, Any]]:
        return self.client.get(f"/api/sites/{site.pk}/stills").json()

    def picture(self, still: dict[str, Any]) -> np.ndarray:
        answer = self.client.get(f"/api/stills/{still['id']}/picture")
        self.assertEqual(answer.status_code, 200)
        return np.asarray(Image.open(io.BytesIO(b"".join(answer.streaming_content))))

    def test_a_still_is_taken_goes_on_and_is_deleted_with_its_files(self) -> None:
        site = measured_site_of(self.ada)
        still = self.taken(site)
        self.assertEqual(still["job"]["state"], "done", still["job"]["message"])
        self.assertGreaterEqual(still["samples"], 2)
        first = self.picture(still)
        self.assertEqual(first.shape, (32, 48, 3))
        # The ground is below, the sky above.
        self.assertGreater(first[:4, :, 2].mean(), first[-8:, :, 2].mean() + 30)
        more = int(still["samples"]) + 6
        # The site goes on; the still is of what it was.
        edit(self.client, site, 1, replace("/light/exposure", 2.0))
        answer = send(self.client, "post", f"/api/stills/{still['id']}/more", {"samples": more})
        perform(answer.json()["job"]["id"])
        (on,) = self.listed(site)
        self.assertGreaterEqual(on["samples"], more)
        self.assertNotEqual(on["picture"], still["picture"])
        self.assertFalse(default_storage.exists(still["picture"]))
        self.assertLess(np.abs(self.picture(on).astype(int) - first).mean(), 12)
        self.assertGreater(holdings_of(self.ada).made, 1000)
        row = Still.objects.get()
        names = [row.picture, row.film]
        layers = self.client.get(f"/api/stills/{still['id']}/layers")
        self.assertEqual(layers["Content-Disposition"], 'attachment; filename="first-48x32.exr"')
        film = read_layers(b"".join(layers.streaming_content))
        self.assertEqual((film.samples, film.channels["sun"].shape), (on["samples"], (32, 48, 3)))
        clear_away()
        self.assertTrue(all(default_storage.exists(name) for name in names))
        self.assertEqual(send(self.client, "delete", f"/api/stills/{still['id']}").status_code, 204)
        self.assertFalse(any(default_storage.exists(name) for name in names))
        self.assertEqual(self.listed(site), [])

    def test_a_still_is_finished_looked_at_and_written(self) -> None:
        site = measured_site_of(self.ada)
        still = self.taken(site)

        def looked_at(*steps: dict[str, Any]) -> np.ndarray:
            answer = send(self.client, "post", f"/api/stills/{still['id']}/finished?width=64", {"steps": list(steps)})
            self.assertEqual(answer.status_code, 200, answer.content)
            return np.asarray(Image.open(io.BytesIO(answer.content))).astype(int)

        plain = looked_at()
        self.assertLess(np.abs(plain - self.picture(still)).mean(), 6)
        self.assertGreater((looked_at({"kind": "exposure", "stops": 1}) - plain).mean(), 10)
        grey = looked_at({"kind": "contrast", "saturation": -100})
        self.assertLess(np.ptp(grey, axis=2).mean(), 3)
        darker = looked_at({"kind": "light_mix", "sky": -4})
        self.assertLess(darker.mean(), plain.mean())
        for format, kind in (
            ("png16", "image/png"),
            ("tiff", "image/tiff"),
            ("jpeg", "image/jpeg"),
            ("exr", "image/x-exr"),
        ):
            body = {"format": format, "stack": {"steps": [{"kind": "vignette"}]}}
            job = send(self.client, "post", f"/api/stills/{still['id']}/files", body).json()
            perform(job["id"])
            answer = self.client.get(f"/api/jobs/{job['id']}/file")
            self.assertEqual((answer.status_code, answer["Content-Type"]), (200, kind))
        files = self.client.get(f"/api/sites/{site.pk}/files").json()
        self.assertEqual(len(files), 4)
        bad = send(
            self.client, "post", f"/api/stills/{still['id']}/finished", {"steps": [{"kind": "exposure", "stops": 90}]}
        )
        self.assertEqual(bad.status_code, 422)
        one = Still.objects.get(pk=still["id"])
        one.take(film=default_storage.save("stills/torn.exr", ContentFile(b"torn")))
        torn = send(self.client, "post", f"/api/stills/{still['id']}/finished", {"steps": []})
        self.assertEqual(torn.status_code, 422)
        self.assertIn("cannot be read any more", torn.json()["message"])

    def test_a_view_is_told_what_a_finish_makes_of_colours(self) -> None:
        steps = [{"kind": "exposure", "stops": 1.0}, {"kind": "vignette"}]
        response = send(self.client, "post", "/api/tones", {"steps": steps})
        self.assertEqual(response.status_code, 200)
        arrays, meta = unpack(response.content)
        self.assertEqual(arrays["table"].shape, (33, 33, 33, 4))
        self.assertEqual(meta["left_out"], [1])
        wrong = send(self.client, "post", "/api/tones", {"steps": [{"kind": "exposure", "stops": 99}]})
        self.assertEqual(wrong.status_code, 422)

    def test_one_that_is_shared_counts_what_others_traced_and_leaves_nothing_of_it(self) -> None:
        site = measured_site_of(self.ada)
        alone = self.picture(self.taken(site, samples=24)).astype(float)
        answer = self.asked(site, samples=40, sharers=1)
        share, others = still_kind._share, []

        def shared(still: Still) -> None:
            # As another worker does, here before the own one has traced much: until it has kept a film.
            share(still)
            job = Job.objects.get(kind="still_share")
            with patch.object(share_kind, "_wanted", lambda one: not one.film), patch.object(share_kind, "_KEEP", 4.0):
                perform(job.pk)
            others.append(still.shares.get())

        with patch.object(still_kind, "_share", shared):
            perform(answer.json()["job"]["id"])
        still = Still.objects.get(pk=answer.json()["id"])
        (other,) = others
        self.assertGreater(other.samples, 1)
        self.assertGreater(still.samples, other.samples)
        self.assertGreaterEqual(still.samples, 40)
        self.assertEqual(Share.objects.count(), 0)
        self.assertFalse(default_storage.exists(other.film))
        state = next(one for one in self.listed(site) if one["id"] == str(still.pk))
        # Noise alone tells it from one that was not shared.
        self.assertLess(np.abs(self.picture(state).astype(float) - alone).mean(), 8)
        with default_storage.open(still.film) as file:
            self.assertEqual(read_layers(file.read()).samples, still.samples)

    def test_who_comes_to_share_one_that_is_done_leaves_at_once(self) -> None:
        site = measured_site_of(self.ada)
        still = Still.objects.get(pk=self.taken(site)["id"])
        late = start("still_share", site, {"share": Share.objects.create(still=still).pk})
        gone = start("still_share", site, {"share": 12345})
        for job in (late, gone):
            perform(job.pk)
            job.refresh_from_db()
            self.assertEqual((job.state, job.result), ("done", {}))

    def test_a_part_of_a_picture_is_taken(self) -> None:
        site = measured_site_of(self.ada)
        still = self.taken(site, region=[0.25, 0.0, 0.75, 0.5])
        self.assertEqual(self.picture(still).shape, (16, 24, 3))

    def test_one_that_is_stopped_keeps_what_it_has_and_goes_on(self) -> None:
        site = measured_site_of(self.ada)
        answer = self.asked(site, samples=60_000)
        job = Job.objects.get(pk=answer.json()["job"]["id"])
        # Somebody asks for the end once there is something to see.
        tell = Job.tell_result

        def told(self: Job, result: dict[str, Any]) -> None:
            tell(self, result)
            self.cancel()

        with patch.object(Job, "tell_result", told):
            perform(job.pk)
        (still,) = self.listed(site)
        self.assertEqual(still["job"]["state"], "done")
        self.assertRegex(still["job"]["message"], r"^Stopped at \d+ of 60000 samples")
        self.assertTrue(self.picture(still).size)
        before = still["samples"]
        self.assertGreater(before, 0)
        row = Still.objects.get()
        self.assertTrue(row.film)
        # A worker that was killed leaves its film; the next one goes on from there.
        row.take(wanted=int(before) + 2)
        again = send(self.client, "post", f"/api/stills/{still['id']}/more", {"samples": int(before) + 3})
        perform(again.json()["job"]["id"])
        (still,) = self.listed(site)
        self.assertGreaterEqual(still["samples"], before + 3)

    def test_a_site_is_put_back_to_what_a_still_shows(self) -> None:
        site = site_of(self.ada)
        still = self.asked(site).json()
        before = Still.objects.get().document
        edit(self.client, site, 1, replace("/shots/0/name", "Other"), replace("/light/exposure", 1.0))
        self.assertEqual(send(self.client, "post", f"/api/stills/{still['id']}/restore").status_code, 204)
        site.refresh_from_db()
        self.assertEqual(site.document, before)
        self.assertEqual(site.edits.latest("number").label, "As in the still of First")

    def test_what_cannot_be_taken_is_refused_by_its_field(self) -> None:
        site = site_of(self.ada)
        for values, field in (
            ({"shot": "none"}, "shot"),
            ({"width": 100_000}, "width"),
            ({"height": 0}, "height"),
            ({"samples": 0}, "samples"),
            ({"region": [0.5, 0, 0.5, 1]}, "region"),
            ({"region": [0.5, 0, 1.5, 1]}, "region"),
            ({"region": [0, 0, 1]}, "region"),
        ):
            answer = self.asked(site, **values)
            self.assertEqual(answer.status_code, 422, values)
            self.assertIn(
                field, [one["field"].split("/")[-1].split(".")[-1] for one in answer.json()["fields"]], answer.json()
            )
        self.assertEqual(self.listed(site), [])
        still = self.asked(site).json()
        for samples in (1, 4):
            answer = send(self.client, "post", f"/api/stills/{still['id']}/more", {"samples": samples})
            self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.client.get(f"/api/stills/{still['id']}/picture").status_code, 404)
        grace = signed_in(user("grace"))
        self.assertEqual(grace.get(f"/api/stills/{still['id']}/picture").status_code, 404)
        self.assertEqual(send(grace, "delete", f"/api/stills/{still['id']}").status_code, 404)

    def test_an_engine_that_ends_is_told_of(self) -> None:
        site = measured_site_of(self.ada)
        with patch("jobs.kinds.still.Tracer", side_effect=TracingFailed("The engine that traces ended by itself.")):
            still = self.taken(site)
        self.assertEqual((still["job"]["state"], still["picture"]), ("failed", ""))
        self.assertIn("ended by itself", still["job"]["message"])


class FilesTests(TestCase):
    def test_files_of_a_still_that_is_gone_are_not_left(self) -> None:
        ada = user("ada")
        site = site_of(ada)
        still = Still.objects.create(
            site=site, name="x", shot="first", revision=1, document={}, width=4, height=4, wanted=1
        )
        other = Still.objects.get(pk=still.pk)
        still.delete()
        from django.core.files.base import ContentFile

        name = default_storage.save("stills/late.png", ContentFile(b"late"))
        self.assertFalse(other.take(picture=name))
        self.assertFalse(default_storage.exists(name))
