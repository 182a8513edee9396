"""Writes the API's OpenAPI schema, from which the web application's types are made."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

PATH = settings.ROOT / "server" / "schema" / "openapi.json"


def schema_text() -> str:
    """The schema as it is kept in the repository."""
    from config.api import api

    return json.dumps(api.get_openapi_schema(), indent=1, default=str) + "\n"


class Command(BaseCommand):
    """``manage.py export_schema``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Write the file."""
        PATH.write_text(schema_text())
