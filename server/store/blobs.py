"""Where derived data is kept: Django's storage, shared by all processes; and each process's own memory in front of it."""

from __future__ import annotations

import hashlib
import logging
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from functools import lru_cache

from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.storage import Storage, default_storage
from django.db import DatabaseError, connection, transaction
from django.db.models import Sum
from django.utils import timezone

from cenote.derive.cache import Cache
from cenote.derive.memory import space_collections

from .models import Blob
from .whole_files import WholeFiles

log = logging.getLogger("cenote.store")
# Seconds between two notes of when something was last used; and how full the store is after it has been cleared out.
_NOTED_EVERY, _CLEARED_TO = 600.0, 0.9
# Bytes after whose writing it is looked whether the store is too full.
_LOOKED_EVERY = 32 * 1024**2


class SourceStore:
    """What users brought in: kept for good, apart from what is derived."""

    def __init__(self, storage: Storage) -> None:
        self.storage = storage

    @staticmethod
    def _path(name: str) -> str:
        return f"sources/{name.partition('-')[0]}/{name}"

    def read(self, name: str) -> bytes | None:
        """The bytes of a name, or None."""
        return _read(self.storage, self._path(name))

    def write(self, name: str, content: bytes) -> None:
        """Keep bytes under a name, which is a hash of them: what is there already is the same."""
        if not self.has(name):
            self.storage.save(self._path(name), ContentFile(content))

    def has(self, name: str) -> bool:
        """Whether there are bytes of that name."""
        return self.storage.exists(self._path(name))

    def delete(self, name: str) -> None:
        """Delete what nobody uses any more."""
        self.storage.delete(self._path(name))

    @contextmanager
    def alone(self, name: str) -> Iterator[None]:
        """Sources are made by nobody."""
        yield


def _read(storage: Storage, path: str) -> bytes | None:
    try:
        with storage.open(path) as file:
            return file.read()
    except FileNotFoundError:
        return None


def replace_whole(storage: Storage, path: str, content: bytes) -> None:
    """Write a file in place of what was there, so that a reader finds either the old or the new one."""
    if isinstance(storage, WholeFiles):
        storage._save(path, ContentFile(content))
        return
    # Object stores take a whole object or none, but Django would find another name for one that is there.
    if storage.exists(path):
        storage.delete(path)
    written = storage.save(path, ContentFile(content))
    if written != path:
        storage.delete(written)


class DerivedStore:
    """A :class:`cenote.derive.store.Store` on a Django storage, no larger than a limit: what was least recently used goes first.

    :param most: bytes.
    """

    def __init__(self, storage: Storage, most: int) -> None:
        self.storage, self.most = storage, most
        self._used: dict[str, float] = {}
        self._written = 0
        self._lock = threading.Lock()

    @staticmethod
    def _path(name: str) -> str:
        kind, _, digest = name.partition("-")
        return f"derived/{kind}/{digest[:2]}/{name}"

    def read(self, name: str) -> bytes | None:
        """The bytes of a name, or None."""
        content = _read(self.storage, self._path(name))
        if content is not None and "." not in name:
            self._note(name)
        return content

    def write(self, name: str, content: bytes) -> None:
        """Keep bytes under a name, in place of what it had."""
        path = self._path(name)
        replace_whole(self.storage, path, content)
        try:
            with transaction.atomic():
                Blob.objects.update_or_create(name=name, defaults={"size": len(content), "used": timezone.now()})
        except DatabaseError:
            log.warning("%s is kept but not in the books of the store", name, exc_info=True)
        self._written += len(content)
        if self._written > min(_LOOKED_EVERY, self.most // 8):
            self._written = 0
            self.clear_out()

    def has(self, name: str) -> bool:
        """Whether there are bytes of that name."""
        return self.storage.exists(self._path(name))

    @contextmanager
    def alone(self, name: str) -> Iterator[None]:
        """One maker of a name at a time, over all processes and machines: an advisory lock in the database, which ends
        with its connection, so that a maker that is killed holds nobody up."""
        number = int.from_bytes(hashlib.blake2b(name.encode(), digest_size=8).digest(), "big", signed=True)
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_lock(%s)", [number])
        try:
            yield
        finally:
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [number])

    def _note(self, name: str) -> None:
        """Note now and then that something was used."""
        now = time.monotonic()
        with self._lock:
            if self._used.get(name, -_NOTED_EVERY) > now - _NOTED_EVERY:
                return
            if len(self._used) > 100_000:
                self._used.clear()
            self._used[name] = now
        try:
            with transaction.atomic():
                Blob.objects.filter(name=name).update(used=timezone.now())
        except DatabaseError:
            log.warning("the use of %s could not be noted", name, exc_info=True)

    def held(self) -> int:
        """The bytes that it holds."""
        return Blob.objects.aggregate(total=Sum("size"))["total"] or 0

    def clear_out(self) -> int:
        """Throw away what was least recently used until it is small enough. :returns: bytes that were freed."""
        excess = self.held() - self.most
        if excess <= 0:
            return 0
        goal, freed = excess + int(self.most * (1 - _CLEARED_TO)), 0
        # What was used a moment ago is being read by somebody.
        old = Blob.objects.filter(used__lt=timezone.now() - timedelta(seconds=5)).order_by("used")
        for blob in old.iterator():
            if freed >= goal:
                break
            self.storage.delete(self._path(blob.name))
            blob.delete()
            freed += blob.size
        log.warning("the store was too full: %.1f GB were freed", freed / 1e9)
        return freed


@lru_cache(maxsize=1)
def shared_cache() -> Cache:
    """This process's cache."""
    space_collections()
    store = DerivedStore(default_storage, settings.STORE_BYTES)
    return Cache(store, SourceStore(default_storage), settings.MEMORY_BYTES, settings.MEMORY_MOST_BYTES)
