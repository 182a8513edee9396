"""Which samples a few things may decide, for signals that look about with rays."""

from __future__ import annotations

import numpy as np

from ..geometry.rays import LIFT, hemisphere, looks_into
from .around import Around
from .scene import Samples


def narrowed(
    some: np.ndarray, around: Around, samples: Samples, rays: int, reach: float = np.inf, lowest: float = -1.0
) -> np.ndarray:
    """Of some samples those with a ray into the box about anything that is around, bool (N,).

    :param some: bool (N,). :param rays: how many rays each sample looks with.
    :param reach, lowest: see :func:`cenote.geometry.rays.open_share`.
    """
    out, rows = np.zeros(len(samples), bool), np.flatnonzero(some)
    room, pattern = 2 * LIFT, hemisphere(rays)
    out[rows] = looks_into(around.low - room, around.high + room, samples.positions[rows], samples.normals[rows], pattern,
                           reach + room, lowest)  # fmt: skip
    return out
