"""Moving pictures: asked for, taken picture by picture, gone on with, stopped, and refused by field."""

from __future__ import annotations

import io
import zipfile
from typing import Any
from unittest.mock import patch

import numpy as np
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.test import TestCase
from helpers import edit, measured_site_of, replace, send, signed_in, user
from PIL import Image

from cenote.still.reel import Reel
from jobs.models import Job
from jobs.queue import perform
from stills.models import FOLDER

TURN = {"seconds": 1, "rate": 3, "moves": [{"kind": "turntable", "angle": 90}]}


class MotionTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)

    def moving(self, motion: dict[str, Any] = TURN) -> None:
        edit(self.client, self.site, 1, replace("/shots/0/motion", motion))

    def asked(self, **values: Any) -> Any:
        body = {"shot": "first", "width": 48, "samples": 2, "format": "frames", **values}
        return send(self.client, "post", f"/api/sites/{self.site.pk}/motions", body)

    def frames(self, job: dict[str, Any]) -> list[np.ndarray]:
        """The pictures of a file that was written."""
        answer = self.client.get(f"/api/jobs/{job['id']}/file")
        self.assertEqual(answer.status_code, 200)
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as archive:
            return [np.asarray(Image.open(io.BytesIO(archive.read(name)))) for name in archive.namelist()]

    def left(self) -> list[str]:
        """Pictures that lie about."""
        return default_storage.listdir(FOLDER)[1] if default_storage.exists(FOLDER) else []

    def test_a_shot_that_moves_is_taken_and_listed_among_the_files(self) -> None:
        self.moving()
        before = self.left()
        job = self.asked().json()
        # The site goes on; what is taken is of what it was.
        edit(self.client, self.site, 2, replace("/shots/0/motion/moves", []))
        perform(job["id"])
        row = Job.objects.get(pk=job["id"])
        self.assertEqual(row.state, "done", row.message)
        frames = self.frames(job)
        self.assertEqual([one.shape for one in frames], [(32, 48, 3)] * 3)
        self.assertGreater(np.abs(frames[0].astype(int) - frames[2]).mean(), 3)
        (file,) = self.client.get(f"/api/sites/{self.site.pk}/files").json()
        self.assertIn("3 pictures at 3 a second", str(file))
        self.assertEqual(self.left(), before)

    def test_films_play_everywhere(self) -> None:
        self.moving()
        for format, kind in (("mp4", "video/mp4"), ("webm", "video/webm")):
            job = self.asked(format=format).json()
            perform(job["id"])
            answer = self.client.get(f"/api/jobs/{job['id']}/file")
            self.assertEqual((answer.status_code, answer["Content-Type"]), (200, kind))

    def test_one_that_was_cut_off_goes_on_with_what_is_there(self) -> None:
        self.moving()
        job = self.asked().json()
        red = io.BytesIO()
        Image.new("RGB", (48, 32), "red").save(red, "PNG")
        default_storage.save(f"{FOLDER}/{job['id']}-00001.png", ContentFile(red.getvalue()))
        perform(job["id"])
        frames = self.frames(job)
        self.assertTrue((frames[1] == (255, 0, 0)).all())
        self.assertFalse((frames[0] == (255, 0, 0)).all())

    def test_one_that_is_stopped_leaves_nothing(self) -> None:
        self.moving()
        before = self.left()
        job = self.asked().json()
        take = Reel.take

        def stopping(self: Reel, number: int, progress: Any) -> np.ndarray:
            if number == 1:
                Job.objects.get(pk=job["id"]).cancel()
            return take(self, number, progress)

        with patch.object(Reel, "take", stopping):
            perform(job["id"])
        self.assertEqual(Job.objects.get(pk=job["id"]).state, "cancelled")
        self.assertEqual(self.left(), before)

    def test_what_cannot_be_taken_is_refused_by_its_field(self) -> None:
        self.assertEqual(self.asked().json()["fields"][0]["field"], "shot")
        self.assertIn("Nothing moves", self.asked().json()["message"])
        self.moving({**TURN, "seconds": 120, "rate": 60})
        self.assertIn("7,200 pictures", self.asked().json()["message"])
        for field, values in (
            ("shot", {"shot": "gone"}),
            ("width", {"width": 9}),
            ("samples", {"samples": 0}),
            ("format", {"format": "gif"}),
        ):
            with self.subTest(field):
                answer = self.asked(**values)
                self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, field))
        bad = send(self.client, "post", f"/api/sites/{self.site.pk}/edits", {
            "revision": 2, "label": "x", "gesture": "", "operations": [replace("/shots/0/motion/moves", [{"kind": "travel", "to": "gone"}])],
        })  # fmt: skip
        self.assertEqual(bad.status_code, 422)
        self.client = signed_in(user("eve"))
        self.assertEqual(self.asked().status_code, 404)
