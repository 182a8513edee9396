"""Every operation of the API called with what its description allows and with what it does not: none may fail by an error of
ours, and each answer must be one that is described.

``./cenote sweep`` calls each far more often than ``./cenote test``.
"""

from __future__ import annotations

import json
import os
import unittest
from collections import Counter
from typing import Any
from unittest.mock import patch

import requests
import schemathesis
from django.conf import settings
from django.test import LiveServerTestCase
from helpers import PASSWORD, small_document, user
from hypothesis import HealthCheck, Phase, given
from hypothesis import settings as hypothesis_settings
from schemathesis.checks import not_a_server_error
from schemathesis.generation import GenerationMode
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from config.api import api
from jobs.models import Job
from library.models import LibraryEntry
from sites.models import MeshImport, Site

# Of each operation and in each manner; a long sweep asks for hundreds.
EXAMPLES = int(os.environ.get("CENOTE_SWEEP", "6"))
_DESCRIBED = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
# What takes seconds a call, or ends the session that all others need.
_SELDOM = {"/api/sites/{site_id}/exports", "/api/sites/{site_id}/materials/{kind}/textures"}


def whole_schema() -> dict[str, Any]:
    """The description with the operations that it leaves out, whose answers are packs and pictures."""
    views = [view for router in api._get_bound_routers() for view in router.path_operations.values()]
    hidden = [one for view in views for one in view.operations if not one.include_in_schema]
    for one in hidden:
        one.include_in_schema = True
    try:
        return json.loads(json.dumps(api.get_openapi_schema(), default=str))
    finally:
        for one in hidden:
            one.include_in_schema = False


class SweepTests(LiveServerTestCase):
    def setUp(self) -> None:
        self.ada = user("ada")
        self.session = requests.Session()
        self.sign_in()
        # What a call starts is work for nobody here.
        self.enterContext(patch("derived.warm.read_ahead.on", False))

    def sign_in(self) -> None:
        """A session, and the token that goes with changes."""
        address = f"{self.live_server_url}/api/session"
        token = self.session.get(address).json()["csrf"]
        answer = self.session.post(address, json={"user": "ada", "password": PASSWORD}, headers={"X-CSRFToken": token})
        self.assertEqual(answer.status_code, 200, answer.text)
        self.session.headers["X-CSRFToken"] = answer.json()["csrf"]

    def real(self) -> dict[str, str]:
        """Things that are there, by the names that addresses have for them; made anew where a call has deleted one."""
        site = Site.objects.filter(owner=self.ada, deleted=None).first()
        if site is None:
            site = Site.objects.create(owner=self.ada, name="Yard", document=small_document())
        job, _ = Job.objects.get_or_create(site=site, kind="export", state="done")
        entry, _ = MeshImport.objects.get_or_create(site=site, file_name="a.glb", upload="")
        kept = LibraryEntry.objects.filter(owner=self.ada, deleted=None).first() or LibraryEntry.objects.create(
            owner=self.ada, kind=LibraryEntry.Kind.COVER, name="Moss", site="Yard",
            content={"cover": small_document()["weather"][0]["cover"], "where": small_document()["weather"][0]["where"]},
        )  # fmt: skip
        return {
            "site_id": str(site.pk), "job_id": str(job.pk), "import_id": str(entry.pk), "entry_id": str(kept.pk),
            "id": "ground", "layer_id": "growth", "layer": "growth", "item": "fern", "kind": "brick", "surface_id": "ground",
        }  # fmt: skip

    def test_no_call_fails_by_an_error_of_ours(self) -> None:
        described = set(json.loads((settings.ROOT / "server/schema/openapi.json").read_text())["paths"])
        schema, counts = schemathesis.openapi.from_dict(whole_schema()), Counter[str]()
        for found in schema.get_all_operations():
            operation = found.ok()
            if operation.path == "/api/session":
                # Its calls would sign this session out; test_accounts has them.
                continue
            for mode in GenerationMode:
                with self.subTest(f"{operation.label}, {mode.value}"):
                    self._sweep(operation, mode, operation.path in described, counts)
        missing = {one.ok().label for one in schema.get_all_operations()} - set(counts)
        self.assertEqual(missing, {one for one in missing if "/api/session" in one}, "never called")
        self.assertGreater(sum(counts.values()), 150)

    def _sweep(self, operation: Any, mode: GenerationMode, described: bool, counts: Counter[str]) -> None:
        many = 2 if operation.path in _SELDOM else EXAMPLES

        @given(case=operation.as_strategy(generation_mode=mode))
        @hypothesis_settings(
            max_examples=many, derandomize=True, database=None, deadline=None, phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )  # fmt: skip
        def call(case: Any) -> None:
            real = self.real()
            for name in case.path_parameters or {}:
                # Every third address stays as it was drawn.
                if name in real and counts[operation.label] % 3:
                    case.path_parameters[name] = real[name]
            counts[operation.label] += 1
            answer = case.call(base_url=self.live_server_url, session=self.session, timeout=120)
            case.validate_response(answer, checks=_DESCRIBED if described else [not_a_server_error])

        try:
            call()
        except Exception as error:
            if "Unsatisfiable" in type(error).__name__:
                # There is nothing that its description does not allow.
                return
            raise


if __name__ == "__main__":
    unittest.main()
