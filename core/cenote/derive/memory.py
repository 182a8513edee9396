"""One limit for what a process holds, measured by what it really takes, not by adding up what is known of."""

from __future__ import annotations

import ctypes
import gc
import os
import threading
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from typing import Any

_PAGE = os.sysconf("SC_PAGE_SIZE")
# How many of the values are let go of before it is measured again.
_SHARE = 0.15
# The latest values stay whatever the limit: they are what is being worked on.
_LATEST = 8


def resident_bytes() -> int:
    """The memory that this process holds (its resident set), bytes."""
    with open("/proc/self/statm", "rb") as file:
        return int(file.read().split()[1]) * _PAGE


def give_back() -> None:
    """Return freed memory to the system, which the C library would keep for later."""
    gc.collect(1)
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)


def space_collections() -> None:
    """Have Python look for circles of garbage less often, and not among what is loaded already.

    A graph is tens of thousands of small lasting objects; by default, half of the time in which it is built would go into
    looking through them again and again.
    """
    gc.freeze()
    gc.set_threshold(50_000, 20, 20)


class Memory:
    """Values by name; while the process holds more than the limit, the least recently used are let go of.

    :param limit: bytes. :param resident: tells what the process holds.
    """

    def __init__(self, limit: int, resident: Callable[[], int] = resident_bytes) -> None:
        self.limit, self._resident = limit, resident
        self._values: OrderedDict[str, Any] = OrderedDict()
        self._lock = threading.Lock()
        self._shrinking = threading.Lock()

    def __len__(self) -> int:
        return len(self._values)

    def __contains__(self, name: str) -> bool:
        return name in self._values

    def peek(self, name: str) -> tuple[bool, Any]:
        """Whether there is a value of that name, and the value."""
        with self._lock:
            try:
                self._values.move_to_end(name)
                return True, self._values[name]
            except KeyError:
                return False, None

    def keep(self, name: str, value: Any) -> None:
        """Keep a value."""
        with self._lock:
            self._values[name] = value
            self._values.move_to_end(name)
        self.shrink()

    def shrink(self) -> None:
        """Let go of values until the process holds no more than the limit, or only the latest are left."""
        if self._resident() <= self.limit or not self._shrinking.acquire(blocking=False):
            return
        try:
            while self._resident() > self.limit and len(self._values) > _LATEST:
                with self._lock:
                    count = min(len(self._values) - _LATEST, max(1, int(len(self._values) * _SHARE)))
                    dropped = [self._values.popitem(last=False) for _ in range(count)]
                del dropped
                give_back()
        finally:
            self._shrinking.release()
