"""Values under a key: the latest ones in memory, and, where asked, in a store that all processes share.

Anything in a cache can be thrown away and made again.
"""

from __future__ import annotations

import logging
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

import numpy as np

from .memory import Memory
from .store import Arrays, MemoryStore, Store, pack_arrays, unpack_arrays

Value = TypeVar("Value")
log = logging.getLogger("cenote.derive")
# Bytes that a process may hold, where nobody says otherwise.
USUAL_LIMIT = 1100 * 1024**2
_NO_LIMIT = 1 << 62
# How many of the latest values of one lineage are remembered.
_LINE, _MOST_LINES = 4, 20_000
# Seconds for which the store is believed to hold what it held, and for how many names.
_BELIEVED, _MOST_BELIEVED = 20.0, 200_000


class Cache:
    """Values by key.

    :param store: of derived arrays. :param sources: of what users brought in, which nothing can make again.
    :param limit: bytes that the process may hold. :param most: and where all of it is being worked on; see :class:`Memory`.
    """

    def __init__(
        self, store: Store, sources: Store | None = None, limit: int = USUAL_LIMIT, most: int | None = None
    ) -> None:
        self.store, self.sources = store, sources or store
        self.memory = Memory(limit, most=most)
        self._making: dict[str, tuple[threading.RLock, list[int]]] = {}
        self._lock = threading.Lock()
        self._lines: OrderedDict[str, list[str]] = OrderedDict()
        self._there: dict[str, float] = {}

    @contextmanager
    def _alone(self, name: str) -> Iterator[None]:
        """One maker of a name at a time in this process."""
        with self._lock:
            lock, waiting = self._making.setdefault(name, (threading.RLock(), [0]))
            waiting[0] += 1
        try:
            with lock:
                yield
        finally:
            with self._lock:
                waiting[0] -= 1
                if not waiting[0]:
                    self._making.pop(name, None)

    def get(self, name: str, make: Callable[[], Value], briefly: bool = False) -> Value:
        """The value of a key, made at most once at a time and kept in memory. :param briefly: until some others are."""
        found, value = self.memory.peek(name)
        if found:
            return value
        with self._alone(name):
            found, value = self.memory.peek(name)
            if not found:
                value = make()
                (self.memory.keep_briefly if briefly else self.memory.keep)(name, value)
        return value

    def kept(self, name: str, make: Callable[[], Value], pack: Callable[[Value], Arrays],
             unpack: Callable[[Arrays], Value]) -> Value:  # fmt: skip
        """The value of a key, kept in memory and in the store; made by one process at a time."""

        def fetch() -> Value:
            arrays = self.read(name)
            if arrays is not None:
                return unpack(arrays)
            with self.store.alone(name):
                # Another process may have made it meanwhile.
                arrays = self.read(name)
                if arrays is not None:
                    return unpack(arrays)
                value = make()
                self.store.write(name, pack_arrays(pack(value)))
            return value

        return self.get(name, fetch)

    def read(self, name: str) -> Arrays | None:
        """The arrays of a key in the store; None where there are none, or none that can be read."""
        content = self.store.read(name)
        if content is None:
            return None
        try:
            return unpack_arrays(content)
        except ValueError as error:
            log.warning("%s in the store is damaged and is made again: %s", name, error)
            return None

    def has(self, name: str) -> bool:
        """Whether :meth:`kept` would find the key without making anything."""
        return name in self.memory or self._there_lately(name, self.store)

    def has_source(self, name: str) -> bool:
        """Whether something that was brought in is there."""
        return self._there_lately(name, self.sources)

    def _there_lately(self, name: str, store: Store) -> bool:
        now = time.monotonic()
        if self._there.get(name, -_BELIEVED) > now - _BELIEVED:
            return True
        there = store.has(name)
        if there:
            if len(self._there) > _MOST_BELIEVED:
                self._there.clear()
            self._there[name] = now
        return there

    # Marks: what the content of a value is known by

    def mark(self, name: str) -> np.ndarray | None:
        """The mark of a key's value, uint8 (N,); None while it has not been made."""
        found, mark = self.memory.peek(f"{name}.mark")
        if found:
            return mark
        content = self.store.read(f"{name}.mark")
        if content is None or not len(content):
            return None
        mark = np.frombuffer(content, np.uint8)
        self.memory.keep(f"{name}.mark", mark)
        return mark

    def set_mark(self, name: str, mark: np.ndarray) -> None:
        """Keep the mark of a key's value, uint8 (N,), for all processes."""
        self.memory.keep(f"{name}.mark", mark)
        self.store.write(f"{name}.mark", mark.tobytes())

    # Lines: earlier values of the same thing, which a new one may take parts from

    def line(self, lineage: str) -> list[str]:
        """Keys of the latest values of a lineage, newest first."""
        kept = list(self._lines.get(lineage, ()))
        content = self.store.read(f"{lineage}.line")
        if content:
            stored = content.decode(errors="replace")
            kept += [stored] if stored not in kept else []
        return kept

    def add_to_line(self, lineage: str, name: str, shared: bool) -> None:
        """Say that a key is the latest of its lineage. :param shared: whether its value is in the store."""
        before = self._lines.get(lineage, [])
        if before[:1] == [name]:
            return
        stored = self.store.read(f"{lineage}.line") if shared else None
        before = [one for one in before if one != name]
        self._lines[lineage] = [name, *before[: _LINE - 1]]
        self._lines.move_to_end(lineage)
        while len(self._lines) > _MOST_LINES:
            self._lines.popitem(last=False)
        if shared and stored != name.encode():
            self.store.write(f"{lineage}.line", name.encode())


def memory_cache(limit: int = _NO_LIMIT) -> Cache:
    """A cache without anything outside the process, for tests and scripts, which mostly hold on to all that they make."""
    return Cache(MemoryStore(), limit=limit)
