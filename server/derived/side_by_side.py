"""Several things at a time for one request: what is small holds the interpreter's lock for part of the time only."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from django.db import connection

from cenote.parallel import WORKERS

Given = TypeVar("Given")
Made = TypeVar("Made")
# Apart from the threads of kernels: a thread that makes something waits for kernels, and these wait for nobody.
_pool = ThreadPoolExecutor(WORKERS, thread_name_prefix="side-by-side")


def side_by_side(make: Callable[[Given], Made], given: Iterable[Given]) -> list[Made]:
    """What is made of each thing given, in their order.

    In a transaction all is made on this thread, since others would not see what has been written in it.

    :raises: whatever ``make`` raises, the first one met.
    """
    things = list(given)
    if len(things) < 2 or connection.in_atomic_block:
        return [make(one) for one in things]

    def alone(one: Given) -> Made:
        try:
            return make(one)
        finally:
            # A request's end closes the connection of its own thread only.
            connection.close()

    return list(_pool.map(alone, things))
