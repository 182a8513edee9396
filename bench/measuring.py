"""What the figures are measured with."""

from __future__ import annotations

import resource
import statistics
import threading
import time
from collections.abc import Callable
from contextlib import AbstractContextManager, nullcontext
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class Figure:
    """One figure. A remark, if any, says what it is to be compared with."""

    name: str
    value: float
    unit: str
    remark: str = ""


def seconds(work: Callable[[], object], times: int = 3) -> float:
    """The median time of some runs, after one that warms up: compiled kernels and trees are not what is measured."""
    work()
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return statistics.median(taken)


def resident(process: int | str = "self") -> float:
    """Memory of a process now, MB; of this one where none is named."""
    return int(Path(f"/proc/{process}/statm").read_text().split()[1]) * resource.getpagesize() / 1e6


def peak_of(work: Callable[[], object]) -> float:
    """How many MB a piece of work takes at its peak above what was held before, by looking every 5 ms."""
    before, most, going = resident(), [resident()], [True]

    def watch() -> None:
        while going[0]:
            most[0] = max(most[0], resident())
            time.sleep(0.005)

    watcher = threading.Thread(target=watch, daemon=True)
    watcher.start()
    work()
    going[0] = False
    watcher.join()
    return max(0.0, most[0] - before)


class FolderStore:
    """A :class:`cenote.derive.store.Store` in a folder, for one process: what is kept there counts in nobody's memory."""

    def __init__(self, folder: str) -> None:
        self._folder = Path(folder)

    def read(self, name: str) -> bytes | None:
        """The bytes of a name, or None."""
        return (self._folder / name).read_bytes() if self.has(name) else None

    def write(self, name: str, content: bytes) -> None:
        """Keep bytes."""
        (self._folder / name).write_bytes(content)

    def has(self, name: str) -> bool:
        """Whether there are bytes of that name."""
        return (self._folder / name).exists()

    def alone(self, name: str) -> AbstractContextManager[object]:
        """Nobody else asks."""
        return nullcontext()
