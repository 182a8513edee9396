"""A finish as a table of colours, as far as it goes by the colour of a pixel alone: what a view draws with while it is live.

Light goes in by a scale that is even in stops where it is bright and even in light where it is dark; tones come out. It is what colour lookup tables of three
dimensions are in any grading (as "Cube LUT" files have them), with the tone mapping inside.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .base import Negative, Step, finished
from .masks import nothing_known

# Colours a side of the table; the light that its last one stands for; and where its scale bends from even in light to even in stops.
SIDE, MOST, BENDS = 33, 16.0, 400.0


def _done(step: Step) -> bool:
    return step.on and step.amount > 0


def _told(step: Step) -> bool:
    """Whether a step goes by the colour of a pixel alone, all over a picture."""
    return step.by_colour and step.within == "all"


def left_out(steps: Sequence[Step]) -> list[int]:
    """The rows of steps that are done, and that such a table cannot tell."""
    return [row for row, step in enumerate(steps) if _done(step) and not _told(step)]


def lights() -> np.ndarray:
    """The lights of a side of the table, float32 (SIDE,), linear, from 0 to :data:`MOST`."""
    share = np.linspace(0, 1, SIDE)
    return np.asarray(np.expm1(share * np.log1p(MOST * BENDS)) / BENDS, np.float32)


def table_of(steps: Sequence[Step]) -> np.ndarray:
    """Tones as they are shown, sRGB float32 (SIDE, SIDE, SIDE, 3) in [0, 1], for each light by its blue, its green and its red."""
    blue, green, red = np.meshgrid(lights(), lights(), lights(), indexing="ij")
    picture = np.stack([red, green, blue], axis=-1).reshape(SIDE * SIDE, SIDE, 3)
    flat = Negative(
        picture, {}, np.full(picture.shape[:2], np.inf, np.float32), nothing_known(picture.shape[0], picture.shape[1])
    )
    return finished(flat, [step for step in steps if _told(step)]).reshape(SIDE, SIDE, SIDE, 3)
