"""Signing in and out, and what strangers may see."""

from __future__ import annotations

import json
from datetime import timedelta
from unittest.mock import patch

from django.test import Client, TestCase
from django.utils import timezone
from helpers import PASSWORD, send, signed_in, site_of, user

from accounts.models import WrongTries
from accounts.patience import FREE_OF_ADDRESS, FREE_OF_NAME, turn


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


class PatienceTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.now = timezone.now()
        self.enterContext(patch("accounts.patience.timezone.now", side_effect=lambda: self.now))

    def tried(self, name: str = "ada", password: str = "wrong", address: str = "10.0.0.1"):
        body = json.dumps({"user": name, "password": password})
        return Client(REMOTE_ADDR=address).post("/api/session", body, content_type="application/json")

    def test_wrong_tries_under_a_name_wait_longer_each_time_and_cost_no_hashing(self) -> None:
        for _ in range(FREE_OF_NAME + 1):
            self.assertEqual(self.tried(address=f"10.0.0.{_}").status_code, 401)
        waits = []
        for _ in range(8):
            with patch("accounts.api.authenticate", side_effect=AssertionError("it was hashed")):
                answer = self.tried("ADA ", PASSWORD, address="10.9.9.9")
            self.assertEqual(answer.status_code, 429)
            self.assertIn(f"Wait {answer['Retry-After']} second", answer.json()["message"])
            waits.append(int(answer["Retry-After"]))
            self.now += timedelta(seconds=waits[-1])
            self.assertEqual(self.tried(address="10.9.9.8").status_code, 401)
        self.assertEqual(waits, [1, 2, 4, 8, 16, 32, 60, 60])
        self.assertEqual(self.tried("bob").status_code, 401, "others are not held up")
        self.now += timedelta(seconds=61)
        self.assertEqual(self.tried(password=PASSWORD).status_code, 200)
        self.assertEqual(self.tried().status_code, 401, "and all is forgotten")

    def test_so_do_wrong_tries_from_an_address(self) -> None:
        for row in range(FREE_OF_ADDRESS + 1):
            self.assertEqual(self.tried(f"user {row}").status_code, 401)
        self.assertEqual(self.tried(password=PASSWORD).status_code, 429)
        self.assertEqual(self.tried(password=PASSWORD, address="10.0.0.2").status_code, 200)

    def test_what_is_counted_does_not_grow_for_ever(self) -> None:
        for row in range(10):
            self.tried(f"user {row}", address=f"10.0.0.{row}")
        self.assertEqual(WrongTries.objects.count(), 20)
        self.now += timedelta(hours=2)
        self.tried("other")
        self.assertEqual(WrongTries.objects.count(), 2)

    def test_passwords_are_hashed_one_at_a_time(self) -> None:
        with turn(), patch("accounts.patience._TURN", 0.05):
            answer = self.tried(password=PASSWORD)
        self.assertEqual((answer.status_code, answer["Retry-After"]), (429, "5"))
        self.assertEqual(self.tried(password=PASSWORD).status_code, 200)

    def test_signing_in_and_out_takes_the_token_of_a_page_of_ours(self) -> None:
        stranger = Client(enforce_csrf_checks=True)
        body = json.dumps({"user": "ada", "password": PASSWORD})
        answer = stranger.post("/api/session", body, content_type="application/json")
        self.assertEqual(answer.status_code, 403)
        self.assertIn("page of Cenote", answer.json()["message"])
        token = {"HTTP_X_CSRFTOKEN": stranger.get("/api/session").json()["csrf"]}
        answer = stranger.post("/api/session", body, content_type="application/json", **token)
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(stranger.delete("/api/session").status_code, 403)
        self.assertEqual(stranger.get("/api/session").json()["user"], "ada")
        token = {"HTTP_X_CSRFTOKEN": answer.json()["csrf"]}
        self.assertEqual(stranger.delete("/api/session", **token).json()["user"], None)


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
