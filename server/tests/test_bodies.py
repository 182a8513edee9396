"""Bodies that nobody could do anything with: refused in words, by field, wherever they are sent."""

from __future__ import annotations

import json
from typing import Any

from django.test import SimpleTestCase, TestCase
from helpers import edit, replace, send, signed_in, site_of, user

from api.bodies import DEEPEST, faults


def nested(depth: int) -> Any:
    value: Any = 1
    for _ in range(depth):
        value = [value]
    return value


class FaultTests(SimpleTestCase):
    def test_what_is_usual_has_none(self) -> None:
        self.assertEqual(list(faults({"name": "Lock “4”, ö, 🪨", "list": [1, None, True, {"a": "b"}]})), [])
        self.assertEqual(list(faults(nested(DEEPEST))), [])

    def test_each_is_told_by_its_field(self) -> None:
        found = {
            one["field"]: one["message"]
            for one in faults({"a": ["x", "\0"], "b": {"c": "\ud800"}, "d": nested(DEEPEST)})
        }
        self.assertEqual(set(found) - {one for one in found if one.startswith("d/")}, {"a/1", "b/c"})
        self.assertIn("NUL", found["a/1"])
        self.assertIn("lone surrogate", found["b/c"])
        self.assertEqual(len(found), 3)

    def test_names_count_as_texts(self) -> None:
        self.assertIn("A name in it", next(faults({"a": {"\0": 1}}))["message"])

    def test_both_halves_of_a_pair_are_a_character(self) -> None:
        self.assertEqual(list(faults(json.loads('"\\ud83e\\udea8"'))), [])


class BodyTests(TestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.client = signed_in(self.ada)
        self.site = site_of(self.ada)
        self.base = f"/api/sites/{self.site.pk}"

    def refused(self, method: str, address: str, body: Any, field: str) -> None:
        answer = send(self.client, method, address, body)
        self.assertEqual(answer.status_code, 422, answer.content[:300])
        self.assertIn(field, [one["field"] for one in answer.json()["fields"]])

    def test_no_text_brings_the_server_down(self) -> None:
        for bad in ("a\0b", "\ud800"):
            with self.subTest(repr(bad)):
                self.refused("post", "/api/sites", {"name": bad}, "name")
                self.refused("patch", self.base, {"name": bad}, "name")
                operation = replace("/weather/0/name", bad)
                wanted = {"revision": 1, "label": "x", "operations": [operation]}
                self.refused("post", f"{self.base}/edits", wanted, "operations/0/value")
                self.refused("post", f"{self.base}/edits", wanted | {"label": bad, "operations": []}, "label")
                self.refused("post", f"{self.base}/preview", {"operations": [operation]}, "operations/0/value")
                self.refused("post", f"{self.base}/preview", {"surfaces": [bad]}, "surfaces/0")
                self.refused("post", "/api/session", {"user": bad, "password": "x"}, "user")
        self.site.refresh_from_db()
        self.assertEqual(self.site.revision, 1)

    def test_what_is_nested_without_end_is_refused_however_deep(self) -> None:
        for depth in (DEEPEST + 20, 500):
            operation = {"op": "replace", "path": "/weather", "value": nested(depth)}
            answer = send(
                self.client, "post", f"{self.base}/edits", {"revision": 1, "label": "x", "operations": [operation]}
            )
            self.assertEqual(answer.status_code, 422)
            self.assertIn("nested more than", answer.json()["fields"][0]["message"])
        deep = b'{"revision": 1, "label": "x", "operations": ' + b"[" * 200_000 + b"]" * 200_000 + b"}"
        answer = self.client.post(f"{self.base}/edits", deep, content_type="application/json")
        self.assertEqual(answer.status_code, 422)

    def test_surfaces_that_are_not_there_are_told(self) -> None:
        answer = send(self.client, "post", f"{self.base}/preview", {"surfaces": ["shed"]})
        self.assertEqual(answer.status_code, 404)
        for path in ("surfaces/shed/mesh", "surfaces/shed/maps"):
            self.assertEqual(self.client.get(f"{self.base}/{path}").status_code, 404, path)

    def test_large_changes_pass(self) -> None:
        strokes = [{"path": [[x / 10, 0.0], [x / 10, 1.0]]} for x in range(-15, 15)]
        self.assertEqual(edit(self.client, self.site, 1, replace("/ground/strokes", strokes)).status_code, 200)
