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
# Down to this share of the limit: what is let go of value by value is looked for at each new one.
_ROOM = 0.93
# The latest values stay whatever the limit: they are what is being worked on.
_LATEST = 8
# So many of the values that are read a few times right after they were made are held.
_BRIEFLY = 12


def resident_bytes() -> int:
    """The memory that this process holds (its resident set), bytes."""
    with open("/proc/self/statm", "rb") as file:
        return int(file.read().split()[1]) * _PAGE


def give_back() -> None:
    """Return memory that nobody holds to the system: circles of garbage, and what the C library would keep for later."""
    gc.collect()
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)


def space_collections() -> None:
    """Have Python look for circles of garbage less often than by default.

    A graph is tens of thousands of small lasting objects; half of the time in which it is built would go into looking
    through them again and again. Not much less often either: answers of megabytes may hang in such circles.
    """
    gc.set_threshold(10_000, 10, 10)


class Memory:
    """Values by name; while the process holds more than the limit, the least recently used are let go of.

    :param limit: bytes. :param resident: tells what the process holds.
    """

    def __init__(self, limit: int, resident: Callable[[], int] = resident_bytes) -> None:
        self.limit, self._resident = limit, resident
        self._values: OrderedDict[str, Any] = OrderedDict()
        self._brief: OrderedDict[str, Any] = OrderedDict()
        self._lock = threading.Lock()
        self._shrinking = threading.Lock()

    def __len__(self) -> int:
        return len(self._values)

    def __contains__(self, name: str) -> bool:
        return name in self._values

    def peek(self, name: str) -> tuple[bool, Any]:
        """Whether there is a value of that name, and the value."""
        with self._lock:
            for values in (self._values, self._brief):
                if name in values:
                    values.move_to_end(name)
                    return True, values[name]
            return False, None

    def keep(self, name: str, value: Any) -> None:
        """Keep a value."""
        with self._lock:
            self._values[name] = value
            self._values.move_to_end(name)
        self.shrink()

    def keep_briefly(self, name: str, value: Any) -> None:
        """Keep a value until some others are kept so."""
        with self._lock:
            self._brief[name] = value
            if len(self._brief) > _BRIEFLY:
                self._brief.popitem(last=False)

    def shrink(self) -> None:
        """Once the process holds more than the limit, let go of values until there is some room, or only the latest are left.

        What is no value of ours goes first: else all values would go for garbage that nobody has collected yet.
        """
        if self._resident() <= self.limit or not self._shrinking.acquire(blocking=False):
            return
        try:
            give_back()
            while self._resident() > self.limit * _ROOM and len(self._values) > _LATEST:
                with self._lock:
                    count = min(len(self._values) - _LATEST, max(1, int(len(self._values) * _SHARE)))
                    dropped = [self._values.popitem(last=False) for _ in range(count)]
                del dropped
                give_back()
        finally:
            self._shrinking.release()
