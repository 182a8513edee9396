"""Where something stands and how it is turned."""

from __future__ import annotations

import numpy as np

from ..parameters import Declared, point, quantity
from .mesh import placement_matrix


class Pose(Declared):
    """A place and a rotation: rolled about its own z axis, then tipped about its own x axis, then turned."""

    position: tuple[float, float, float] = point((0, 0, 0), help="Metres along x, y (up) and z.")
    turn: float = quantity(0, low=-360, high=360, unit="°", step=1, help="Turn about the upright axis.")
    tip: float = quantity(0, low=-180, high=180, unit="°", step=1, help="Then tipped about its own x axis.")
    roll: float = quantity(0, low=-180, high=180, unit="°", step=1, help="Then rolled about its own z axis.")

    def matrix(self) -> np.ndarray:
        """The rigid matrix, float64 (4, 4)."""
        return placement_matrix(self.position, self.turn, tip_degrees=self.tip, roll_degrees=self.roll)


class Placement(Pose):
    """Where an object stands. Its size is part of the object's own mesh, not of the matrix."""

    size: float = quantity(1, low=0.001, high=1000, unit="×", step=0.05, help="Factor on its own size.")
