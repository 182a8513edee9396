"""Results kept under a hash of their inputs. Anything in a cache can be thrown away and made again."""

from __future__ import annotations

import hashlib
import io
import json
import threading
from collections import OrderedDict
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any, Protocol, TypeVar

import numpy as np

Value = TypeVar("Value")


class Store(Protocol):
    """Where named bytes are kept for all processes."""

    def read(self, name: str) -> bytes | None:
        """The bytes, or None where there are none."""

    def write(self, name: str, content: bytes) -> None:
        """Keep bytes, whole or not at all."""

    def has(self, name: str) -> bool:
        """Whether there are bytes of that name."""


class MemoryStore:
    """A store for tests and single processes."""

    def __init__(self) -> None:
        self.content: dict[str, bytes] = {}

    def read(self, name: str) -> bytes | None:
        return self.content.get(name)

    def write(self, name: str, content: bytes) -> None:
        self.content[name] = content

    def has(self, name: str) -> bool:
        return name in self.content


@lru_cache(maxsize=1)
def code_stamp() -> str:
    """A hash of the core's own source: results of older code are never taken for results of this one."""
    sha = hashlib.sha256()
    root = Path(__file__).parent.parent
    for path in sorted(root.rglob("*.py")):
        sha.update(path.relative_to(root).as_posix().encode())
        sha.update(path.read_bytes())
    return sha.hexdigest()[:16]


def key(*inputs: Any) -> str:
    """A content hash of inputs that can be written as JSON, and of the code."""
    text = json.dumps([code_stamp(), *inputs], sort_keys=True, default=str)
    return hashlib.sha256(text.encode()).hexdigest()


def pack_arrays(arrays: dict[str, np.ndarray]) -> bytes:
    """Arrays as an uncompressed NPZ file."""
    stream = io.BytesIO()
    np.savez(stream, **arrays)  # type: ignore[arg-type]
    return stream.getvalue()


def unpack_arrays(content: bytes) -> dict[str, np.ndarray]:
    """Arrays from :func:`pack_arrays`; never runs code that the file might carry."""
    with np.load(io.BytesIO(content), allow_pickle=False) as file:
        return {name: file[name] for name in file.files}


def _size(value: Any) -> int:
    if isinstance(value, np.ndarray):
        return value.nbytes
    if isinstance(value, dict):
        return sum(_size(v) for v in value.values())
    if isinstance(value, (list, tuple)):
        return sum(_size(v) for v in value)
    if hasattr(value, "__dict__"):
        return sum(_size(v) for v in vars(value).values())
    return 64


class Cache:
    """Values by key: the latest ones in memory, and, where asked, in a store that all processes share.

    :param limit: bytes of arrays to hold in memory.
    """

    def __init__(self, store: Store, limit: int = 2 * 1024**3) -> None:
        self.store, self.limit = store, limit
        self._values: OrderedDict[str, tuple[Any, int]] = OrderedDict()
        self._held = 0
        self._lock = threading.Lock()
        self._making: dict[str, threading.Lock] = {}

    def peek(self, name: str) -> tuple[bool, Any]:
        with self._lock:
            if name in self._values:
                self._values.move_to_end(name)
                return True, self._values[name][0]
        return False, None

    def _keep(self, name: str, value: Any) -> None:
        size = _size(value)
        with self._lock:
            self._held += size - (self._values.pop(name)[1] if name in self._values else 0)
            self._values[name] = (value, size)
            while self._held > self.limit and len(self._values) > 1:
                self._held -= self._values.popitem(last=False)[1][1]

    def get(self, name: str, make: Callable[[], Value]) -> Value:
        """The value of a key, made at most once at a time and kept in memory."""
        found, value = self.peek(name)
        if found:
            return value
        with self._lock:
            lock = self._making.setdefault(name, threading.Lock())
        with lock:
            found, value = self.peek(name)
            if not found:
                value = make()
                self._keep(name, value)
        with self._lock:
            self._making.pop(name, None)
        return value

    def arrays(self, name: str, make: Callable[[], dict[str, np.ndarray]]) -> dict[str, np.ndarray]:
        """Arrays of a key, kept in memory and in the store."""

        def fetch() -> dict[str, np.ndarray]:
            content = self.store.read(name)
            if content is not None:
                return unpack_arrays(content)
            made = make()
            self.store.write(name, pack_arrays(made))
            return made

        return self.get(name, fetch)

    def has_arrays(self, name: str) -> bool:
        """Whether :meth:`arrays` would find the key without making anything."""
        return self.peek(name)[0] or self.store.has(name)
