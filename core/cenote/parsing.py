"""Parsing source texts beside other threads.

Python 3.11's parser keeps a count that all threads share, and fails with a ``SystemError`` where two of them parse at once (CPython
issue 106905). NumPy parses the head of each array that is read, the core its own sources for their stamps.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from typing import TypeVar

Value = TypeVar("Value")
# Others may parse as well, such as what compiles kernels.
_TRIALS = 8


class _Turn:
    lock = threading.Lock()


# Who is forked off while another thread parses would wait for that for ever.
os.register_at_fork(after_in_child=lambda: setattr(_Turn, "lock", threading.Lock()))


def in_turn(parse: Callable[[], Value]) -> Value:
    """What a function that parses gives, no other of ours parsing meanwhile; it is called again where one of others came in its way.

    :raises SystemError: if that happens each time.
    """
    with _Turn.lock:
        for _ in range(_TRIALS - 1):
            try:
                return parse()
            except SystemError:
                continue
        return parse()
