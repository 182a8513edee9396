"""Signing in and out, and what strangers may see."""

from __future__ import annotations

from django.test import Client, TestCase
from helpers import PASSWORD, send, signed_in, site_of, user


class SessionTests(TestCase):
    def test_sign_in_and_out(self) -> None:
        user("ada")
        client = Client(enforce_csrf_checks=True)
        session = client.get("/api/session").json()
        self.assertIsNone(session["user"])
        credentials = {"user": "ada", "password": PASSWORD}
        client.defaults["HTTP_X_CSRFTOKEN"] = session["csrf"]
        answer = send(client, "post", "/api/session", credentials)
        self.assertEqual((answer.status_code, answer.json()["user"]), (200, "ada"))
        self.assertEqual(client.get("/api/sites").status_code, 200)
        client.defaults["HTTP_X_CSRFTOKEN"] = answer.json()["csrf"]
        self.assertIsNone(client.delete("/api/session").json()["user"])
        self.assertEqual(client.get("/api/sites").status_code, 401)

    def test_a_wrong_password_is_told_in_words(self) -> None:
        user("ada")
        answer = send(Client(), "post", "/api/session", {"user": "ada", "password": "wrong"})
        self.assertEqual(answer.status_code, 401)
        self.assertIn("do not go together", answer.json()["message"])

    def test_changes_need_the_token(self) -> None:
        client = signed_in(user("ada"))
        self.assertEqual(send(client, "post", "/api/sites", {"name": "A"}).status_code, 200)
        client.defaults["HTTP_X_CSRFTOKEN"] = "x" * 64
        self.assertEqual(send(client, "post", "/api/sites", {"name": "B"}).status_code, 403)

    def test_strangers_get_nothing(self) -> None:
        site = site_of(user("ada"))
        for address in ("/api/sites", f"/api/sites/{site.pk}", f"/api/sites/{site.pk}/scene", "/api/vocabulary"):
            self.assertEqual(Client().get(address).status_code, 401, address)
        self.assertEqual(Client().get(f"/api/sites/{site.pk}/events").status_code, 404)


class PrivacyTests(TestCase):
    def test_one_users_sites_are_invisible_to_another(self) -> None:
        site = site_of(user("ada"))
        other = signed_in(user("bob"))
        self.assertEqual(other.get("/api/sites").json(), [])
        base = f"/api/sites/{site.pk}"
        edit = {"revision": 1, "label": "x", "operations": [{"op": "remove", "path": "/shots/0"}]}
        for method, address, body in (
            ("get", base, None),
            ("patch", base, {"name": "Mine"}),
            ("delete", base, None),
            ("post", f"{base}/restore", None),
            ("post", f"{base}/duplicate", None),
            ("post", f"{base}/edits", edit),
            ("post", f"{base}/undo", {"revision": 1}),
            ("get", f"{base}/scene", None),
            ("get", f"{base}/jobs", None),
            ("post", f"{base}/exports", {}),
            ("post", f"{base}/preview", {}),
            ("get", f"{base}/surfaces/ground/mesh", None),
            ("get", f"{base}/scatters/growth/placements", None),
            ("get", f"{base}/thumbnail", None),
            ("get", f"{base}/events", None),
        ):
            answer = other.get(address) if method == "get" else send(other, method, address, body)
            self.assertEqual(answer.status_code, 404, f"{method} {address}")
        site.refresh_from_db()
        self.assertEqual((site.name, site.deleted, site.revision), ("Yard", None, 1))
