"""From the core's declarations to the OpenAPI schema to the page's types: nothing is written twice or left behind."""

from __future__ import annotations

import json
import subprocess
from io import StringIO

from django.conf import settings
from django.core.management import call_command
from django.test import SimpleTestCase, TestCase

from cenote.registry import kind_of
from cenote.signals.base import SIGNALS
from cenote.weather.base import COVERS
from sites.management.commands.export_schema import PATH, schema_text


class SchemaTests(SimpleTestCase):
    def test_the_kept_schema_is_the_present_one(self) -> None:
        self.assertEqual(PATH.read_text(), schema_text(), "run manage.py export_schema, then npm run types")

    def test_the_pages_types_follow_from_it(self) -> None:
        command = ["npx", "--no-install", "openapi-typescript", str(PATH)]
        done = subprocess.run(command, cwd=settings.ROOT / "web", capture_output=True, text=True, check=True)
        # As prettier writes it.
        shape = subprocess.run(
            ["npx", "--no-install", "prettier", "--stdin-filepath", "src/api/schema.d.ts"], input=done.stdout,
            cwd=settings.ROOT / "web", capture_output=True, text=True, check=True,
        )  # fmt: skip
        kept = (settings.ROOT / "web" / "src" / "api" / "schema.d.ts").read_text()
        self.assertTrue(kept == shape.stdout, "run npm run types, then npx prettier --write src, in web")

    def test_declared_parameters_arrive_with_range_unit_and_help(self) -> None:
        groups = json.loads(PATH.read_text())["components"]["schemas"]
        for family in (SIGNALS, COVERS):
            for member in family:
                declared = groups[member.__name__]["properties"]
                self.assertEqual(declared["kind"]["const"], kind_of(member))
                for name, entry in member.model_json_schema()["properties"].items():
                    for part in ("minimum", "maximum", "unit", "step", "description", "default"):
                        self.assertEqual(declared[name].get(part), entry.get(part), f"{member.__name__}.{name} {part}")


class MigrationTests(TestCase):
    def test_models_have_their_migrations(self) -> None:
        call_command("makemigrations", "--check", "--dry-run", stdout=StringIO())
