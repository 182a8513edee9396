"""The library: recipes that a user keeps and takes to other sites."""

from __future__ import annotations

from uuid import uuid4

from django.test import TestCase
from helpers import edit, replace, send, signed_in, site_of, user

from library.models import LibraryEntry


class LibraryTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site, self.other = site_of(self.ada, "Quarry"), site_of(self.ada, "Mill")
        self.layer = self.site.document["weather"][0]

    def keep(self, name: str = "Thick moss", **changes):
        body = {"site": str(self.site.pk), "layer": self.layer["id"], "name": name} | changes
        return send(self.client, "post", "/api/library", body)

    def listed(self, site=None, client=None) -> list[dict]:
        return (client or self.client).get(f"/api/sites/{(site or self.other).pk}/library").json()

    def test_what_is_kept_on_one_site_is_there_for_another_as_it_was(self) -> None:
        self.assertEqual(self.listed(), [])
        made = self.keep("  Thick moss ").json()
        (found,) = self.listed()
        self.assertEqual((found["name"], found["site"], found["cover"]), ("Thick moss", "Quarry", "moss"))
        self.assertEqual(found["recipe"]["cover"], self.layer["cover"])
        self.assertEqual(found["recipe"]["where"]["cards"], self.layer["where"]["cards"])
        self.assertEqual((found["id"], found["left_out"]), (made["id"], []))
        # It does not follow the layer that it came from.
        self.site.delete()
        self.assertEqual(len(self.listed()), 1)

    def test_rename_delete_and_bring_back(self) -> None:
        entry = self.keep().json()["id"]
        self.assertEqual(send(self.client, "patch", f"/api/library/{entry}", {"name": "Old moss"}).status_code, 204)
        self.assertEqual([one["name"] for one in self.listed()], ["Old moss"])
        self.assertEqual(send(self.client, "delete", f"/api/library/{entry}").status_code, 204)
        self.assertEqual(self.listed(), [])
        self.assertEqual(send(self.client, "patch", f"/api/library/{entry}", {"name": "x"}).status_code, 404)
        self.assertEqual(send(self.client, "post", f"/api/library/{entry}/restore").status_code, 204)
        self.assertEqual([one["name"] for one in self.listed()], ["Old moss"])

    def test_it_is_one_s_own(self) -> None:
        entry = self.keep().json()["id"]
        eve = user("eve")
        client, site = signed_in(eve), site_of(eve)
        self.assertEqual(self.listed(site, client), [])
        for method, path in (("delete", ""), ("post", "/restore")):
            self.assertEqual(send(client, method, f"/api/library/{entry}{path}").status_code, 404)
        self.assertEqual(send(client, "patch", f"/api/library/{entry}", {"name": "mine"}).status_code, 404)
        body = {"site": str(self.site.pk), "layer": self.layer["id"], "name": "x"}
        self.assertEqual(send(client, "post", "/api/library", body).status_code, 404)
        self.assertEqual(client.get(f"/api/sites/{self.site.pk}/library").status_code, 404)

    def test_what_cannot_be_kept_says_why(self) -> None:
        self.assertEqual(self.keep(layer="gone").status_code, 404)
        self.assertIn("nothing was kept", self.keep(layer="gone").json()["message"])
        self.assertEqual(self.keep(site=str(uuid4())).status_code, 404)
        for name in ("", "  ", "x" * 81):
            answer = self.keep(name)
            self.assertEqual((answer.status_code, answer.json()["fields"][0]["field"]), (422, "name"))
        self.assertEqual(LibraryEntry.objects.count(), 0)

    def test_an_entry_that_is_no_longer_understood_hides_no_other(self) -> None:
        self.keep()
        LibraryEntry.objects.create(
            owner=self.ada, kind="cover", name="From long ago", content={"cover": {"kind": "x"}}
        )
        self.assertEqual([one["name"] for one in self.listed()], ["Thick moss"])
        self.assertEqual(LibraryEntry.objects.count(), 2)


class MoodTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada, "Quarry")

    def keep(self, name: str = "Grey"):
        return send(self.client, "post", "/api/moods", {"site": str(self.site.pk), "name": name})

    def own(self, client=None) -> list[dict]:
        return [one for one in (client or self.client).get("/api/moods").json() if one["own"]]

    def test_eight_are_shipped_and_set_no_bearing(self) -> None:
        found = self.client.get("/api/moods").json()
        self.assertEqual(len(found), 8)
        for one in found:
            self.assertNotIn("bearing", one["light"])
            self.assertTrue(one["help"] and one["air"] and one["grade"]["steps"])

    def test_a_site_s_light_and_air_are_kept_for_others(self) -> None:
        finish = {"id": "f", "name": "Warm", "steps": [{"kind": "exposure", "stops": 1}]}
        edit(
            self.client,
            self.site,
            1,
            {"op": "add", "path": "/finishes/-", "value": finish},
            replace("/shots/0/finish", "f"),
        )
        made = self.keep(" Grey ").json()
        self.assertEqual([(one["kind"], one["stops"]) for one in made["grade"]["steps"]], [("exposure", 1)])
        self.assertEqual((made["name"], made["own"], made["help"]), ("Grey", True, "Kept from Quarry."))
        self.assertEqual(made["air"], self.site.document["air"])
        self.assertEqual([one["id"] for one in self.own()], [made["id"]])
        # It is no cover.
        self.assertEqual(self.client.get(f"/api/sites/{self.site.pk}/library").json(), [])
        self.assertEqual(send(self.client, "delete", f"/api/library/{made['id']}").status_code, 204)
        self.assertEqual(self.own(), [])
        send(self.client, "post", f"/api/library/{made['id']}/restore")
        self.assertEqual(len(self.own()), 1)

    def test_it_is_one_s_own_and_has_a_name(self) -> None:
        self.keep()
        eve = signed_in(user("eve"))
        self.assertEqual(self.own(eve), [])
        body = {"site": str(self.site.pk), "name": "x"}
        self.assertEqual(send(eve, "post", "/api/moods", body).status_code, 404)
        refused = self.keep("  ")
        self.assertEqual((refused.status_code, refused.json()["fields"][0]["field"]), (422, "name"))

    def test_one_of_another_shape_is_passed_over(self) -> None:
        self.keep()
        entry = LibraryEntry.objects.get()
        entry.content = {"light": {"glare": 3}}
        entry.save()
        self.assertEqual(self.own(), [])
