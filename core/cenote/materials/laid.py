"""How a material's tile is laid over surfaces that are larger than it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

# "repeated": side by side with itself. "mixed": in parts set off from each other. "turned": these are also turned any way.
# "by piece": each piece of a plane laid in courses is one of the tile's, drawn by lot.
Laying = Literal["repeated", "mixed", "turned", "by piece"]


@dataclass(frozen=True)
class Pieces:
    """The pieces of a tile that is laid in courses.

    :ivar rows: courses in the tile. :ivar columns: pieces in a course.
    :ivar shift: how far every other course is shifted, in pieces.
    :ivar differ: how far pieces differ in length, in [0, 1].
    :ivar spans: float32 (rows · columns, 2), for each the middle of the joint to its left, and the way to the next, in tiles.
    """

    rows: int
    columns: int
    shift: float
    differ: float
    spans: np.ndarray
