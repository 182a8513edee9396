"""What users hold: theirs alone to use, bounded, cleared away in time; and sites whose files are lost."""

from __future__ import annotations

from datetime import timedelta
from importlib import import_module
from unittest.mock import patch

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.test import TestCase
from django.utils import timezone
from helpers import edit, glb_box, replace, send, signed_in, site_of, upload, user

from cenote.derive.sources import source_name
from jobs.holdings import clear_away, holdings_of
from jobs.models import Job
from jobs.queue import perform
from sites.models import Brought, MeshImport
from store.blobs import shared_cache


def barn_of(mesh: str) -> dict:
    """An operation that places a mesh."""
    source = {"kind": "imported", "mesh": mesh, "file_name": "barn.glb"}
    return {"op": "add", "path": "/structures/-", "value": {"id": "barn", "name": "Barn", "source": source}}


class Holder(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def bring(self, side: float = 1.0) -> str:
        """Bring a mesh in; :returns: its hash."""
        answer = self.client.post(f"{self.base}/imports", {"file": upload("barn.glb", glb_box(side, 1, 1))})
        self.assertEqual(answer.status_code, 200, answer.content)
        perform(Job.objects.filter(kind="inspect").latest("created").pk)
        return MeshImport.objects.get(pk=answer.json()["id"]).mesh


class RightTests(Holder):
    def test_only_who_brought_a_mesh_in_can_use_it(self) -> None:
        mesh = self.bring()
        self.assertEqual(edit(self.client, self.site, 1, barn_of(mesh)).status_code, 200)
        bob = user("bob")
        client, other = signed_in(bob), site_of(bob)
        for answer in (
            edit(client, other, 1, barn_of(mesh)),
            send(
                client, "post", f"/api/sites/{other.pk}/preview", {"operations": [barn_of(mesh)], "surfaces": ["barn"]}
            ),
        ):
            self.assertEqual(answer.status_code, 422)
            fields = answer.json()["fields"]
            self.assertEqual(fields[0]["field"], "structures/1/source/mesh")
            self.assertIn("among what you brought in", fields[0]["message"])
        self.assertEqual(edit(client, other, 1, barn_of("0" * 64)).status_code, 422)
        # Bringing in the same file gives the right to it, and shares its bytes.
        client.post(f"/api/sites/{other.pk}/imports", {"file": upload("mine.glb", glb_box(1, 1, 1))})
        perform(Job.objects.filter(kind="inspect").latest("created").pk)
        self.assertEqual(edit(client, other, 1, barn_of(mesh)).status_code, 200)
        self.assertEqual(Brought.objects.filter(digest=mesh).count(), 2)

    def test_unknown_maps_are_refused_by_field(self) -> None:
        for path, value, field in (
            ("/ground/height_map", {"map": "1" * 64}, "ground/height_map/map"),
            ("/materials", [{"id": "own-a", "name": "A", "source": {"kind": "texture_set", "maps": "2" * 64}}],
             "materials/0/source/maps"),
        ):  # fmt: skip
            answer = edit(self.client, self.site, 1, replace(path, value))
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, field), answer.content)

    def test_what_sites_used_before_is_their_owners(self) -> None:
        named = import_module("sites.migrations.0003_brought").named
        document = {
            "structures": [{"source": {"kind": "imported", "mesh": "a" * 64}}],
            "ground": {"height_map": {"map": "b" * 64}},
        }
        self.assertEqual(set(named(document)), {("mesh", "a" * 64), ("heights", "b" * 64)})
        steps = [{"op": "replace", "path": "/kit/0/source/mesh", "value": "c" * 64}, {"op": "remove", "path": "/maps"}]
        self.assertEqual(list(named(steps)), [("mesh", "c" * 64)])


class LostTests(Holder):
    def setUp(self) -> None:
        super().setUp()
        self.enterContext(patch("cenote.derive.cache._BELIEVED", -1.0))

    def test_a_site_is_shown_without_its_file_and_says_so(self) -> None:
        mesh = self.bring(3.0)
        edit(self.client, self.site, 1, barn_of(mesh))
        self.assertEqual(self.client.get(f"{self.base}/scene").json()["lost"], [])
        name = source_name("mesh", mesh)
        content = shared_cache().sources.read(name)
        shared_cache().sources.delete(name)
        edit(self.client, self.site, 2, replace("/structures/1/placement/position", [1, 0, 1]))
        scene = self.client.get(f"{self.base}/scene").json()
        self.assertEqual([(one["field"], one["name"]) for one in scene["lost"]], [("structures/1/source/mesh", "Barn")])
        self.assertIn("a box of 1 m stands in", scene["lost"][0]["message"])
        barn = next(one for one in scene["surfaces"] if one["id"] == "barn")
        self.assertEqual((barn["low"], barn["high"]), ([-0.5, 0, -0.5], [0.5, 1, 0.5]))
        for what in ("mesh", "maps"):
            self.assertEqual(self.client.get(f"{self.base}/surfaces/barn/{what}").status_code, 200)
        shared_cache().sources.write(name, content)
        edit(self.client, self.site, 3, replace("/structures/1/placement/position", [1, 0, 2]))
        scene = self.client.get(f"{self.base}/scene").json()
        self.assertEqual(scene["lost"], [])
        self.assertEqual(next(one for one in scene["surfaces"] if one["id"] == "barn")["high"], [1.5, 1.0, 0.5])


class QuotaTests(Holder):
    def test_what_a_user_holds_is_told_and_bounded(self) -> None:
        self.assertEqual(holdings_of(self.ada).total, 0)
        self.bring()
        held = holdings_of(self.ada)
        self.assertGreater(held.brought, 100)
        self.assertEqual(held.uploads, len(glb_box(1, 1, 1)))
        told = self.client.get("/api/storage").json()
        self.assertEqual((told["used"], told["brought"], told["days"]), (held.total, held.brought, 7))
        with self.settings(USER_BYTES=held.total + 10):
            for address, data, field in (
                (f"{self.base}/imports", {"file": upload("b.glb", glb_box(2, 2, 2))}, "file"),
                (f"{self.base}/ground/maps", {"file": upload("a.png", _png())}, "file"),
            ):
                answer = self.client.post(address, data)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertEqual(answer.json()["fields"][0]["field"], field)
                self.assertIn("You hold 0.00 of 0.00 GB", answer.json()["message"])
        with self.settings(USER_BYTES=held.total - 1):
            self.assertEqual(send(self.client, "post", f"{self.base}/exports", {}).status_code, 422)
        self.assertEqual(holdings_of(self.ada), held)

    def test_a_made_file_can_be_deleted(self) -> None:
        job = made_file(self.site)
        other = signed_in(user("bob"))
        self.assertEqual(other.delete(f"/api/jobs/{job.pk}/file").status_code, 404)
        self.assertEqual(self.client.delete(f"/api/jobs/{job.pk}/file").status_code, 204)
        self.assertFalse(default_storage.exists("exports/one.glb"))
        self.assertEqual(self.client.get(f"{self.base}/files").json(), [])
        self.assertEqual(holdings_of(self.ada).made, 0)
        self.assertEqual(self.client.delete(f"/api/jobs/{job.pk}/file").status_code, 204)


class ClearingTests(Holder):
    def setUp(self) -> None:
        # What is cleared away here is not what other tests have uploaded.
        memory = {"default": {"BACKEND": "django.core.files.storage.InMemoryStorage"}}
        self.enterContext(self.settings(STORAGES=memory))
        super().setUp()

    def test_what_is_over_goes_and_what_is_used_stays(self) -> None:
        used, unused, undone = self.bring(1), self.bring(2), self.bring(3)
        edit(self.client, self.site, 1, barn_of(used))
        edit(
            self.client,
            self.site,
            2,
            {"op": "add", "path": "/structures/-", "value": barn_of(undone)["value"] | {"id": "b"}},
        )
        send(self.client, "post", f"{self.base}/undo", {"revision": 3})
        job = made_file(self.site)
        default_storage.save("uploads/nobodys", ContentFile(b"left behind"))
        self.assertEqual(clear_away(), [])
        self.assertEqual(len(self.client.get(f"{self.base}/files").json()), 1)

        later = timezone.now() + timedelta(days=8)
        uploads = list(MeshImport.objects.values_list("upload", flat=True))
        gone = clear_away(later)
        self.assertEqual(set(gone), {*uploads, "exports/one.glb", "uploads/nobodys", source_name("mesh", unused)})
        sources = shared_cache().sources
        self.assertEqual([sources.has(source_name("mesh", one)) for one in (used, undone, unused)], [True, True, False])
        self.assertEqual(self.client.get(f"{self.base}/files").json(), [])
        self.assertEqual(self.client.get(f"/api/jobs/{job.pk}/file").status_code, 404)
        entry = MeshImport.objects.first()
        answer = send(self.client, "patch", f"{self.base}/imports/{entry.pk}", {"unit": "cm", "up": "y"})
        self.assertEqual(answer.status_code, 404)
        self.assertIn("upload it again", answer.json()["message"])
        self.assertEqual(clear_away(later), [])

    def test_what_is_brought_in_again_or_put_to_use_waits_anew(self) -> None:
        again, placed = self.bring(1), self.bring(2)
        long_ago = timezone.now() - timedelta(days=30)
        for act in (lambda: self.bring(1), lambda: edit(self.client, self.site, 1, barn_of(placed))):
            Brought.objects.update(used=long_ago)
            act()
            self.assertEqual(Brought.objects.exclude(used=long_ago).count(), 1)
        Brought.objects.filter(digest=again).update(used=timezone.now())
        clear_away()
        self.assertEqual(set(Brought.objects.values_list("digest", flat=True)), {again, placed})

    def test_what_is_put_to_use_while_it_is_cleared_away_stays(self) -> None:
        mesh = self.bring()
        Brought.objects.update(used=timezone.now() - timedelta(days=30))

        def used_meanwhile(digest: str) -> bool:
            Brought.objects.filter(digest=digest).update(used=timezone.now())
            return False

        with patch("jobs.holdings._mentioned", used_meanwhile):
            self.assertEqual(clear_away(), [])
        self.assertTrue(shared_cache().sources.has(source_name("mesh", mesh)))

    def test_a_file_that_two_brought_in_stays_for_the_other(self) -> None:
        mesh = self.bring()
        Brought.objects.create(owner=user("bob"), family="mesh", digest=mesh, size=1)
        later = timezone.now() + timedelta(days=8)
        Brought.objects.filter(owner__username="bob").update(used=later)
        clear_away(later)
        self.assertEqual(Brought.objects.get().owner.username, "bob")
        self.assertTrue(shared_cache().sources.has(source_name("mesh", mesh)))


def made_file(site) -> Job:
    """A job that has written a file."""
    name = default_storage.save("exports/one.glb", ContentFile(b"glTF"))
    return Job.objects.create(site=site, kind="export", state="done", result={"file": name, "bytes": 4})


def _png() -> bytes:
    import io

    import numpy as np
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(np.arange(64, dtype=np.uint16).reshape(8, 8) * 900).save(out, "PNG")
    return out.getvalue()
