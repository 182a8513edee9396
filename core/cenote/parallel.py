"""Running compiled kernels on all cores by ranges of rows.

The kernels release the interpreter's lock (``nogil``). A shared thread pool is used rather than numba's own
parallel loops, because the web server calls kernels from several threads at once, which those do not allow.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor, wait
from itertools import pairwise

WORKERS = max(1, len(os.sched_getaffinity(0)))
# Texels worth a thread of their own: handing fewer over costs more than it gains while other threads hold the
# interpreter's lock, as previews on a busy server find.
TEXELS = 60_000
_pool = ThreadPoolExecutor(WORKERS, thread_name_prefix="kernel")
_of_pool = threading.local()


def _anew() -> None:
    """A forked process has the pool but none of its threads, and would wait for them for ever."""
    global _pool
    _pool = ThreadPoolExecutor(WORKERS, thread_name_prefix="kernel")
    _of_pool.busy = False


os.register_at_fork(after_in_child=_anew)


def _shared_out(kernel: Callable[[int, int], object], first: int, beyond: int) -> None:
    """A share on a thread of the pool."""
    _of_pool.busy = True
    try:
        kernel(first, beyond)
    finally:
        _of_pool.busy = False


def rows_of(columns: int) -> int:
    """How many rows of so many texels are worth a thread of their own; for ``least`` of :func:`over_rows`."""
    return max(1, TEXELS // max(1, columns))


def over_rows(kernel: Callable[[int, int], object], rows: int, least: int = 1) -> None:
    """Call ``kernel(first, beyond)`` on ranges that cover ``range(rows)``; return when all are done.

    :param least: the smallest number of rows worth a thread of its own.
    :raises: whatever a kernel raises, the first one met.
    """
    parts = min(WORKERS, max(1, rows // max(1, least)))
    # Threads of the pool that wait for others of it could all be waiting: what they call runs on themselves.
    if parts == 1 or getattr(_of_pool, "busy", False):
        kernel(0, rows)
        return
    edges = [rows * i // parts for i in range(parts + 1)]
    waiting = [_pool.submit(_shared_out, kernel, a, b) for a, b in pairwise(edges[1:])]
    try:
        kernel(edges[0], edges[1])
    finally:
        # Whatever happens, nobody goes on while others still write into what was handed over.
        wait(waiting)
    for future in waiting:
        future.result()
