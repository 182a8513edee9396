"""A way in which drops lie on surfaces.

To add one, add a file to this package with a class that derives from :class:`Droplets` and is registered with ``@DROPLETS.register``. It declares its parameters, and
says where drops lie on a surface.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil
from typing import ClassVar

import numpy as np

from ..parameters import Declared
from ..registry import Family
from .drops import Drops, Wetted

# Drops on one surface.
MOST = 60_000


@dataclass(frozen=True)
class Moment:
    """How it is about the drops. :ivar damp: in [0, 1], the dial."""

    damp: float


class Droplets(Declared):
    """A way in which drops lie on surfaces.

    :cvar title: its name for people. :cvar help: what it is, in one sentence.
    """

    kind: str
    title: ClassVar[str]
    help: ClassVar[str]

    def lie(self, on: Wetted, key: np.uint64, moment: Moment) -> Drops:
        """Where drops lie on a surface. :param key: what is by chance follows from it."""
        raise NotImplementedError

    def expected(self, area: float, moment: Moment) -> int:
        """About how many drops come on so many m², before any touch: what it costs."""
        raise NotImplementedError


def wetness(damp: float) -> float:
    """How much of drops a dampness leaves, in [0, 1]: none on what is dry, all of them from damp on."""
    return min(max((damp - 0.1) / 0.6, 0.0), 1.0)


def at_most(number: float) -> int:
    """A number of drops, as far as there is room for them on one surface."""
    return min(ceil(number), MOST)


DROPLETS: Family[type[Droplets]] = Family("cenote.droplets", "way of drops")
