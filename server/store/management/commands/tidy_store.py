"""Brings the store in order: moves what users brought in to its own place, and deletes derived files that have long been in no book."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta
from typing import Any

from django.core.files.storage import Storage
from django.core.management.base import BaseCommand
from django.utils import timezone

from cenote.site.references import BROUGHT
from store.blobs import DerivedStore, shared_cache
from store.models import Blob

_BROUGHT = tuple(f"{what}-" for what in BROUGHT)

# A file is written before it is entered in the books: what is younger may be on its way there.
_ON_ITS_WAY = timedelta(hours=1)


class Command(BaseCommand):
    """``manage.py tidy_store``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; what users brought in is copied before its old place is emptied."""
        cache = shared_cache()
        store: DerivedStore = cache.store  # type: ignore[assignment]
        known = set(Blob.objects.values_list("name", flat=True))
        moved, deleted, before = 0, 0, timezone.now() - _ON_ITS_WAY
        for path in list(_files(store.storage, "derived")):
            name = path.rpartition("/")[2]
            if name.startswith(_BROUGHT):
                with store.storage.open(path) as file:
                    cache.sources.write(name, file.read())
                moved += 1
            elif (name in known and store._path(name) == path) or store.storage.get_modified_time(path) > before:
                continue
            store.storage.delete(path)
            deleted += 1
        if options["verbosity"] and deleted:
            self.stdout.write(f"store: {moved} brought files moved, {deleted} old files deleted")


def _files(storage: Storage, folder: str) -> Iterator[str]:
    try:
        folders, files = storage.listdir(folder)
    except (FileNotFoundError, NotADirectoryError):
        return
    yield from (f"{folder}/{name}" for name in files)
    for name in folders:
        yield from _files(storage, f"{folder}/{name}")
