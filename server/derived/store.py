"""Where derived data is kept: Django's storage, shared by all processes; and each process's own memory in front of it."""

from __future__ import annotations

from functools import lru_cache

from django.core.files.base import ContentFile
from django.core.files.storage import Storage, default_storage

from cenote.derive.cache import Cache


class DjangoStore:
    """A :class:`cenote.derive.cache.Store` on a Django storage."""

    def __init__(self, storage: Storage) -> None:
        self.storage = storage

    @staticmethod
    def _path(name: str) -> str:
        return f"derived/{name[:2]}/{name}"

    def read(self, name: str) -> bytes | None:
        """The bytes of a name, or None."""
        try:
            with self.storage.open(self._path(name)) as file:
                return file.read()
        except FileNotFoundError:
            return None

    def write(self, name: str, content: bytes) -> None:
        """Keep bytes under a name. Names are content hashes: what is there already is the same."""
        path = self._path(name)
        if self.storage.exists(path):
            return
        # Django's storages write to a fresh name first if two processes come at the same moment.
        written = self.storage.save(path, ContentFile(content))
        if written != path:
            self.storage.delete(written)

    def has(self, name: str) -> bool:
        """Whether there are bytes of that name."""
        return self.storage.exists(self._path(name))


@lru_cache(maxsize=1)
def shared_cache() -> Cache:
    """This process's cache."""
    return Cache(DjangoStore(default_storage))
