"""Pictures of sites and of their shots, as they are drawn in the background."""

from __future__ import annotations

import io

from django.core.files.storage import default_storage
from django.test import TestCase
from helpers import edit, measured_site_of, signed_in, user
from PIL import Image
from procrastinate.contrib.django.models import ProcrastinateJob

from jobs.pictures import thumbnail
from jobs.queue import ask_for_picture
from sites.models import Site


class PictureTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = measured_site_of(self.ada)

    def pictures(self) -> dict[str, str]:
        return self.client.get(f"/api/sites/{self.site.pk}/shots/pictures").json()

    def change(self, **operation: object) -> None:
        revision = Site.objects.get(pk=self.site.pk).revision
        self.assertEqual(edit(self.client, self.site, revision, operation).status_code, 200)
        thumbnail(str(self.site.pk))

    def test_they_are_drawn_once_for_many_changes(self) -> None:
        before = ProcrastinateJob.objects.filter(task_name="draw_picture").count()
        for _ in range(3):
            ask_for_picture(self.site)
        self.assertEqual(ProcrastinateJob.objects.filter(task_name="draw_picture").count(), before + 1)
        thumbnail(str(self.site.pk))
        answer = self.client.get(self.client.get("/api/sites").json()[0]["thumbnail"])
        self.assertEqual((answer["Content-Type"], answer.content[:4]), ("image/png", b"\x89PNG"))
        self.site.delete()
        thumbnail(str(self.site.pk or "00000000-0000-0000-0000-000000000000"))

    def test_each_shot_has_one_in_its_proportions_that_follows_it(self) -> None:
        asked = ProcrastinateJob.objects.filter(task_name="draw_picture")
        self.assertEqual((asked.count(), self.pictures(), asked.count()), (0, {}, 1))
        self.assertEqual(self.client.get(f"/api/sites/{self.site.pk}/shots/first/picture").status_code, 404)
        thumbnail(str(self.site.pk))
        first = self.client.get(self.pictures()["first"])
        self.assertEqual((first["Content-Type"], Image.open(io.BytesIO(first.content)).size), ("image/png", (192, 128)))
        name = Site.objects.get(pk=self.site.pk).shot_pictures["first"]
        self.change(op="replace", path="/shots/0/position", value=[2, 6, 1])
        self.change(op="add", path="/shots/-", value={"id": "tall", "name": "Tall", "frame": "4:5"})
        found = self.pictures()
        self.assertEqual(set(found), {"first", "tall"})
        self.assertNotEqual(self.client.get(found["first"]).content, first.content)
        wide, high = Image.open(io.BytesIO(self.client.get(found["tall"]).content)).size
        self.assertEqual((high, round(high / wide, 2)), (128, 1.25))
        self.assertFalse(default_storage.exists(name), "what nobody asks for any more is deleted")
        self.change(op="remove", path="/shots/1")
        self.assertEqual(list(self.pictures()), ["first"])

    def test_a_copy_keeps_the_picture_that_it_begins_with(self) -> None:
        thumbnail(str(self.site.pk))
        copy = self.client.post(f"/api/sites/{self.site.pk}/duplicate").json()
        self.change(op="replace", path="/shots/0/position", value=[2, 6, 1])
        self.assertEqual(self.client.get(copy["thumbnail"]).status_code, 200)
