"""Keeping children going: one that ends is started again, the sooner the longer it had lived."""

from __future__ import annotations

import os
import signal
import subprocess
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field

from launch.common import Trouble, say

# Seconds until the first new start after an end, and at most between two; who lived so long had nothing wrong with it.
FIRST, LONGEST, SOUND = 0.5, 30.0, 60.0


@dataclass
class Child:
    """A process that is to run for as long as we do.

    :ivar start: starts it. :ivar process: as it runs now.
    """

    name: str
    start: Callable[[], subprocess.Popen[bytes]]
    process: subprocess.Popen[bytes] | None = None
    clock: Callable[[], float] = time.monotonic
    _wait: float = FIRST
    _since: float = 0.0
    _again: float = field(default=0.0)

    def tend(self) -> None:
        """Start it if it does not run, once its time has come."""
        now = self.clock()
        if self.process is not None:
            code = self.process.poll()
            if code is None:
                return
            lived = now - self._since
            self._wait = FIRST if lived >= SOUND else self._wait
            self._again = now + self._wait
            say(
                f"the {self.name} has ended ({code}); its log is in var/log. Starting it again in {self._wait:g} s.",
                error=True,
            )
            self._wait = min(LONGEST, 2 * self._wait)
            # Processes of its own that outlive it would keep its port.
            with suppress(ProcessLookupError, PermissionError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process = None
        if now >= self._again:
            self.process, self._since = self.start(), now


@dataclass
class Database:
    """The database, looked after in the same way.

    :ivar up: whether it runs. :ivar start: starts it; it may raise :class:`Trouble`.
    """

    up: Callable[[], bool]
    start: Callable[[], None]
    every: float = 2.0
    clock: Callable[[], float] = time.monotonic
    _next: float = 0.0
    _wait: float = FIRST

    def tend(self) -> None:
        """Start it if it does not run."""
        now = self.clock()
        if now < self._next:
            return
        self._next = now + self.every
        if self.up():
            self._wait = FIRST
            return
        say("the database has ended. Starting it again.", error=True)
        try:
            self.start()
        except Trouble as trouble:
            self._wait = min(LONGEST, 2 * self._wait)
            self._next = self.clock() + self._wait
            say(f"{trouble}\nIt is tried again in {self._wait:g} s.", error=True)
