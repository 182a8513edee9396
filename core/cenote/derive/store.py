"""Where derived arrays are kept for all processes, and the form they are kept in."""

from __future__ import annotations

import io
from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from threading import RLock
from typing import Protocol

import numpy as np

from ..parsing import in_turn

Arrays = dict[str, np.ndarray]


class Store(Protocol):
    """Named bytes. Names are digests of what the bytes were made from, so equal names are equal bytes; but for hints."""

    def read(self, name: str) -> bytes | None:
        """The bytes, or None where there are none."""

    def write(self, name: str, content: bytes) -> None:
        """Keep bytes, whole or not at all; what has that name already is replaced."""

    def has(self, name: str) -> bool:
        """Whether there are bytes of that name."""

    def alone(self, name: str) -> AbstractContextManager[object]:
        """While it is held, nobody else who asks for the same name gets it: one maker at a time."""


class MemoryStore:
    """A store for tests and single processes."""

    def __init__(self) -> None:
        self.content: dict[str, bytes] = {}
        self._locks: dict[str, RLock] = {}

    def read(self, name: str) -> bytes | None:
        """What was written under a name; None if nothing was."""
        return self.content.get(name)

    def write(self, name: str, content: bytes) -> None:
        """Keep something under a name."""
        self.content[name] = content

    def has(self, name: str) -> bool:
        """Whether something is kept under a name."""
        return name in self.content

    @contextmanager
    def alone(self, name: str) -> Iterator[None]:
        """Be the only one at work on a name."""
        with self._locks.setdefault(name, RLock()):
            yield


def pack_arrays(arrays: Arrays) -> bytes:
    """Arrays as an uncompressed NPZ file."""
    stream = io.BytesIO()
    np.savez(stream, **arrays)  # type: ignore[arg-type]
    return stream.getvalue()


def _read(content: bytes) -> Arrays:
    with np.load(io.BytesIO(content), allow_pickle=False) as file:
        return {name: file[name] for name in file.files}


def unpack_arrays(content: bytes) -> Arrays:
    """Arrays from :func:`pack_arrays`; never runs code that the file might carry.

    :raises ValueError: if they cannot be read.
    """
    try:
        return in_turn(lambda: _read(content))
    except Exception as error:
        # A file that was cut off or overwritten fails in a dozen ways inside zip, zlib and NumPy.
        raise ValueError(f"not readable as arrays: {error}") from error
