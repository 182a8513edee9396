"""What holds for every answer: whom we serve, how many at once, and that whatever is refused is told in one form."""

from __future__ import annotations

import asyncio
import json
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, SimpleTestCase, TestCase, override_settings
from helpers import signed_in, site_of, user


class GuardTests(TestCase):
    def test_every_answer_says_what_a_browser_may_do_with_it(self) -> None:
        for address in ("/", "/api/session", "/api/nothing", "/mark.svg", "/assets/none.js"):
            answer = Client().get(address)
            policy = dict(part.split(" ", 1) for part in answer["Content-Security-Policy"].split("; "))
            self.assertEqual(
                (policy["script-src"], policy["object-src"], policy["frame-ancestors"]), ("'self'", "'none'", "'none'")
            )
            self.assertEqual(
                (answer["X-Frame-Options"], answer["X-Content-Type-Options"]), ("DENY", "nosniff"), address
            )

    def test_other_names_of_the_host_are_refused_for_static_files_too(self) -> None:
        for address in ("/", "/mark.svg", "/api/session"):
            answer = Client().get(address, HTTP_HOST="elsewhere.example")
            self.assertEqual((answer.status_code, answer["Content-Type"]), (400, "application/json"), address)
        self.assertEqual(Client().get("/api/session").status_code, 200)

    def test_cookies_bear_the_name_of_their_server(self) -> None:
        names = set(signed_in(user("ada")).cookies)
        self.assertEqual(names, {settings.SESSION_COOKIE_NAME, settings.CSRF_COOKIE_NAME})
        self.assertTrue(all(name.startswith("cenote_") and len(name) > 20 for name in names))


class RefusalTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.base = f"/api/sites/{site_of(self.ada).pk}"

    def told(self, answer: Any, status: int) -> dict[str, Any]:
        self.assertEqual(
            (answer.status_code, answer["Content-Type"]), (status, "application/json"), answer.content[:300]
        )
        body = answer.json()
        self.assertGreater(len(body["message"]), 20)
        self.assertIsInstance(body["fields"], list)
        return body

    def test_large_bodies(self) -> None:
        large = b'{"name": "' + b"x" * settings.DATA_UPLOAD_MAX_MEMORY_SIZE + b'"}'
        self.told(self.client.post("/api/sites", large, content_type="application/json"), 413)
        with override_settings(MOST_UPLOAD_BYTES=1000), patch("api.bodies._FRAME", 1000):
            file = SimpleUploadedFile("a.glb", b"glTF" + bytes(5000))
            self.told(self.client.post(f"{self.base}/imports", {"file": file}), 413)

    def test_many_files_and_fields(self) -> None:
        many = [SimpleUploadedFile(f"{row}.png", b"x") for row in range(settings.DATA_UPLOAD_MAX_NUMBER_FILES + 1)]
        self.told(self.client.post(f"{self.base}/materials/sets", {"files": many}), 413)

    def test_names_of_files(self) -> None:
        for name in ("x" * 5000 + ".glb", "\0.glb", "..", "/", "a\nb.glb"):
            answer = self.client.post(f"{self.base}/imports", {"file": _named(name)})
            self.assertIn(answer.status_code, (400, 422), name[:20])
            self.told(answer, answer.status_code)

    def test_uploads_name_their_field(self) -> None:
        bad = SimpleUploadedFile("a.png", b"no picture")
        for address, field in (("imports", "file"), ("ground/maps", "file"), ("materials/sets", "files")):
            bad.seek(0)
            body = self.told(self.client.post(f"{self.base}/{address}", {field: bad}), 422)
            self.assertEqual([one["field"] for one in body["fields"]], [field])
            body = self.told(self.client.post(f"{self.base}/{address}", {}), 422)
            self.assertEqual([one["field"] for one in body["fields"]], [field])

    def test_what_is_no_json_and_addresses_where_nothing_is(self) -> None:
        self.told(self.client.post("/api/sites", b"{", content_type="application/json"), 400)
        self.told(self.client.get("/api/nothing"), 404)
        self.told(self.client.get("/api/sites?a=%00"), 422)
        self.told(self.client.get(f"{self.base}/surfaces/a%00b/mesh"), 422)
        self.told(Client().get("/api/sites"), 401)
        self.client.defaults["HTTP_X_CSRFTOKEN"] = "x" * 64
        self.told(self.client.post("/api/sites", b"{}", content_type="application/json"), 403)

    def test_errors_of_ours(self) -> None:
        self.client.raise_request_exception = False
        with (
            patch("sites.api._summary", side_effect=RuntimeError("inside")),
            self.assertLogs("django.request", "ERROR"),
        ):
            body = self.told(self.client.get("/api/sites"), 500)
        self.assertNotIn("inside", json.dumps(body))

    def test_a_patch_that_does_not_fit_is_not_quoted_whole(self) -> None:
        operation = {"op": "add", "path": "/weather/900/name", "value": "x" * 5000}
        body = {"revision": 1, "label": "x", "operations": [operation]}
        answer = self.client.post(f"{self.base}/edits", json.dumps(body), content_type="application/json")
        self.assertLess(len(self.told(answer, 422)["message"]), 320)

    def test_each_operation_tells_how_it_refuses(self) -> None:
        schema = json.loads((settings.ROOT / "server/schema/openapi.json").read_text())
        for path, methods in schema["paths"].items():
            for method, operation in methods.items():
                told = set(operation["responses"])
                self.assertLessEqual({"401", "422"}, told, f"{method} {path}")
                self.assertEqual("403" in told, method != "get", f"{method} {path}")
                self.assertEqual("404" in told, "{" in path or "parameters" in operation, f"{method} {path}")


def _named(name: str) -> SimpleUploadedFile:
    file = SimpleUploadedFile("a.glb", b"x" * 600)
    file._name = name
    return file


class TurnTests(SimpleTestCase):
    def test_so_many_are_answered_at_a_time_and_who_still_sends_takes_no_turn(self) -> None:
        # It gets ready for its first visitor when it is imported, as no test wants it to.
        with patch("derived.warm.warm_in_background"):
            from config import asgi

        going, most, slow = [0], [0], asyncio.Event()

        async def answer(scope, receive, send) -> None:
            while (await receive()).get("more_body"):
                pass
            going[0] += 1
            most[0] = max(most[0], going[0])
            await asyncio.sleep(0.01)
            going[0] -= 1

        async def ask(slowly: bool = False) -> None:
            messages = [{"type": "http.request", "more_body": slowly}, {"type": "http.request", "more_body": False}]

            async def receive():
                if slowly and len(messages) == 1:
                    await slow.wait()
                return messages.pop(0)

            await asgi.application({"type": "http", "path": "/api/sites"}, receive, None)

        async def all_of_them() -> None:
            late = [asyncio.create_task(ask(slowly=True)) for _ in range(5)]
            await asyncio.gather(*(ask() for _ in range(12)))
            self.assertEqual(going[0], 0)
            slow.set()
            await asyncio.gather(*late)

        with (
            patch.object(asgi, "hub_here"),
            patch.object(asgi, "_answer", answer),
            patch.object(asgi, "_turns", asyncio.Semaphore(3)),
        ):
            asyncio.run(all_of_them())
        self.assertEqual(most[0], 3)
