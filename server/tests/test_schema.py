"""From the core's declarations to the OpenAPI schema to the page's types: nothing is written twice or left behind."""

from __future__ import annotations

import json
from io import StringIO

from django.core.management import call_command
from django.test import SimpleTestCase, TestCase

from cenote.registry import kind_of
from cenote.signals.base import SIGNALS
from cenote.weather.base import COVERS
from config.management.commands.export_schema import PATH, schema_text


class SchemaTests(SimpleTestCase):
    def test_the_kept_schema_is_the_present_one(self) -> None:
        self.assertEqual(PATH.read_text(), schema_text(), "run manage.py export_schema")

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
