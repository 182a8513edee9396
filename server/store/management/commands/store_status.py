"""Tells what the store of derived data holds, by kind, and how much it may hold."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from store.models import Blob


class Command(BaseCommand):
    """``manage.py store_status``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it: the whole, then the five kinds that take most."""
        sizes, counts = Counter[str](), Counter[str]()
        for name, size in Blob.objects.values_list("name", "size").iterator():
            kind = name.partition("-")[0]
            sizes[kind] += size
            counts[kind] += 1
        self.stdout.write(
            f"store: {sizes.total() / 1e9:.2f} GB of {settings.STORE_BYTES / 1e9:g} GB in {counts.total():,} blobs"
        )
        for kind, size in sizes.most_common(5):
            self.stdout.write(f"  {kind}: {size / 1e6:.0f} MB in {counts[kind]:,}")
