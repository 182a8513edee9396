"""A pair of timber lock gates."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import block, box, tube
from ..geometry.mesh import Mesh, join, placement_matrix
from ..parameters import quantity
from .base import MAKERS, Maker


@MAKERS.register
class LockGate(Maker):
    """Two mitred leaves that meet upstream, with balance beams, rails, planks and iron straps. Water runs along x."""

    kind: Literal["lock_gate"] = "lock_gate"
    title: ClassVar[str] = "Lock gate"
    width: float = quantity(5.2, low=2, high=20, unit="m", step=0.1, help="Clear width between the walls.")
    depth: float = quantity(3.3, low=1, high=10, unit="m", step=0.1, help="From the top rail down.")
    open: float = quantity(0, low=0, high=68, unit="°", step=1, help="How far the leaves stand open.")
    beam: float = quantity(3.4, low=0, high=8, unit="m", step=0.1, help="Length of the balance beams behind the hinge.")

    def build(self) -> Mesh:
        parts: list[Mesh] = []
        mitre = 18.0
        leaf = self.width / 2 / np.cos(np.radians(mitre))
        for side in (-1, 1):
            pieces = [
                block((leaf / 2, -self.depth, 0.05), (leaf, self.depth + 0.1, 0.07), "timber"),
                box((0, -self.depth, -0.14), (0.22, 0.35, 0.14), "planed_timber"),
                box((leaf - 0.2, -self.depth, -0.12), (leaf, 0.3, 0.12), "planed_timber"),
            ]
            for y in np.linspace(-self.depth + 0.1, -0.15, 5):
                pieces.append(box((0.2, y, -0.14), (leaf - 0.18, y + 0.2, 0.012), "planed_timber"))
                pieces.append(box((0.0, y + 0.06, 0.088), (0.9, y + 0.13, 0.105), "iron"))
            pieces.append(box((-self.beam, 0.5, -0.17), (leaf * 0.96, 0.84, 0.17), "planed_timber"))
            pieces.append(box((-0.02, 0.3, -0.13), (0.24, 0.5, 0.13), "planed_timber"))
            pieces.append(box((leaf - 0.2, 0.25, -0.11), (leaf - 0.02, 0.5, 0.11), "planed_timber"))
            # A walkway of two planks along the upstream side, and its hand rail.
            for k in range(2):
                pieces.append(box((0.1, 0.16, -0.42 + k * 0.2), (leaf - 0.05, 0.2, -0.24 + k * 0.2), "planed_timber"))
            rail = np.array([[0.1, 1.15, -0.44], [leaf - 0.1, 1.15, -0.44]])
            pieces.append(tube(rail, [0.022, 0.022], 8, "iron"))
            for x in (0.15, leaf * 0.5, leaf - 0.15):
                pieces.append(tube(np.array([[x, 0.14, -0.44], [x, 1.16, -0.44]]), [0.018, 0.018], 8, "iron"))
            made = join(pieces)
            if side < 0:
                made = made.moved(np.diag([1.0, 1, -1, 1]))
            turn = side * (90 + mitre * 1 - self.open) if side > 0 else -(90 + mitre - self.open)
            parts.append(made.moved(placement_matrix((0, 0, side * self.width / 2), turn)))
        return join(parts)
