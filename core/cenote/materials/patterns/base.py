"""What a pattern is: a grey picture that wraps round, drawn in metres.

To add one, add a file to this package with a class that derives from :class:`Pattern` and is registered with
``@PATTERNS.register``.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numba import njit

from ...parameters import Declared
from ...registry import Family
from ..canvas import Canvas


class Pattern(Declared):
    """A pattern.

    :cvar name: its name for people.
    """

    kind: str
    title: ClassVar[str]

    @property
    def finest(self) -> float:
        """How large its smallest things are, metres; infinite where it keeps to what pixels can show by itself."""
        return np.inf

    def draw(self, canvas: Canvas, x: np.ndarray, y: np.ndarray, key: np.uint64) -> np.ndarray:
        """Draw it.

        :param x, y: float32 (n, n), tiles, perhaps warped.
        :param key: for its random numbers; equal keys give equal layouts.
        :returns: float32 (n, n) in [0, 1].
        """
        raise NotImplementedError


PATTERNS: Family[type[Pattern]] = Family("cenote.materials.patterns", "pattern")


@njit(inline="always", cache=True, fastmath=True)
def eased(value, low, high):  # type: ignore
    """Smooth step from 0 at ``low`` to 1 at ``high``."""
    t = min(max((value - low) / (high - low), np.float32(0)), np.float32(1))
    return t * t * (np.float32(3) - np.float32(2) * t)
