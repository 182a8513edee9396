"""One limit for what a process holds, measured by what it really takes, not by adding up what is known of."""

from __future__ import annotations

import ctypes
import gc
import math
import os
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from itertools import islice
from typing import Any

_PAGE = os.sysconf("SC_PAGE_SIZE")
# How many of the values are let go of before it is measured again.
_SHARE = 0.15
# Down to this share of the limit: what is let go of value by value is looked for at each new one.
_ROOM = 0.93
# The latest values stay whatever the limit: they are what is being worked on. So do those of the last seconds, up to a higher
# limit: work that reads a thousand parts of something large would make it anew for each of them. By itself that is a third higher.
_LATEST, _AT_WORK, _BEYOND = 8, 3.0, 1.35
# Looking for room takes at most this share of the time: where all that is held is being worked on, there is none.
_LOOKING = 0.1
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

    :param limit: bytes. :param most: bytes that it may hold where all of it is being worked on; some more than the limit, if
        not given. :param resident: tells what the process holds. :param clock: tells the time, seconds.
    """

    def __init__(
        self,
        limit: int,
        resident: Callable[[], int] = resident_bytes,
        clock: Callable[[], float] = time.monotonic,
        most: int | None = None,
    ) -> None:
        self.limit, self._resident, self._clock = limit, resident, clock
        self.most = max(most or int(limit * _BEYOND), limit)
        self._used: dict[str, float] = {}
        self._next = -1e9
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
                    if values is self._values:
                        self._used[name] = self._clock()
                    return True, values[name]
            return False, None

    def keep(self, name: str, value: Any) -> None:
        """Keep a value."""
        with self._lock:
            self._values[name] = value
            self._values.move_to_end(name)
            self._used[name] = self._clock()
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
        held = self._resident()
        far = held > self.most
        if (
            held <= self.limit
            or (self._clock() < self._next and not far)
            or not self._shrinking.acquire(blocking=False)
        ):
            return
        began = self._clock()
        try:
            give_back()
            while self._resident() > self.limit * _ROOM:
                dropped = self._let_go()
                if not dropped:
                    break
                del dropped
                give_back()
        finally:
            now = self._clock()
            self._next = now + (now - began) * (1 / _LOOKING - 1)
            self._shrinking.release()

    def _let_go(self) -> list[Any]:
        """Take some of the values that were not used for longest out of what is held, as far as they may go."""
        with self._lock:
            may = len(self._values) - _LATEST
            count = min(may, max(1, int(len(self._values) * _SHARE)))
            old = self._clock() - _AT_WORK if self._resident() <= self.most else math.inf
            out = []
            for name in list(islice(self._values, max(count, 0))):
                if self._used.get(name, -1e9) > old:
                    break
                out.append(self._values.pop(name))
                self._used.pop(name, None)
            return out
