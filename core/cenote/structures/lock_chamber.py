"""The walls of a canal lock."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import box
from ..geometry.mesh import Mesh, join
from ..kit.base import Dice
from ..parameters import count, quantity
from .base import MAKERS, Maker


@MAKERS.register
class LockChamber(Maker):
    """Two stone walls that face each other along x, with coping stones, a ladder recess and steps down at one end."""

    kind: Literal["lock_chamber"] = "lock_chamber"
    title: ClassVar[str] = "Lock walls"
    length: float = quantity(22, low=4, high=80, unit="m", step=0.5, help="Length of the chamber.")
    width: float = quantity(5.2, low=2, high=20, unit="m", step=0.1, help="Clear width between the walls.")
    depth: float = quantity(3.4, low=1, high=10, unit="m", step=0.1, help="From the coping down to the floor.")
    thickness: float = quantity(0.9, low=0.3, high=3, unit="m", step=0.1, help="Thickness of the walls.")
    wear: float = quantity(0.5, low=0, high=1, unit="", step=0.05, help="How far coping stones have shifted.")
    seed: int = count(1, low=0, high=9999, help="Another number shifts the stones another way.")

    def build(self) -> Mesh:
        dice = Dice("lock chamber", self.seed)
        half, inner, cap = self.length / 2, self.width / 2, 0.32
        parts: list[Mesh] = []
        for side in (-1, 1):
            z0, z1 = sorted((side * inner, side * (inner + self.thickness)))
            # A flight of steps takes the place of the wall's inner part at one end, on one side.
            if side > 0:
                parts.append(box((-half, -self.depth, z0), (half - 4.2, -cap, z1), "ashlar"))
                parts.append(box((half - 4.2, -self.depth, z0 + 0.75), (half, -cap, z1 + 0.75), "ashlar"))
                count, run = 9, 0.3
                rise = (self.depth - 1.0) / count
                for k in range(count):
                    x = half - 0.9 - k * run
                    parts.append(box((x - run, -self.depth, z0), (x, -(k + 1) * rise, z0 + 0.75), "ashlar"))
            else:
                parts.append(box((-half, -self.depth, z0), (half, -cap, z1), "ashlar"))
            x = -half
            while x < half - 0.3:
                long = min(dice.one(0.95, 1.45), half - x)
                over = (x + long / 2) > half - 4.2 and side > 0
                shift = dice.many(3, low=-1, high=1) * self.wear * np.array([0.012, 0.03, 0.045])
                inside, outside = (
                    inner - 0.06 + (0.8 if over else 0),
                    inner + self.thickness * 0.95 + (0.75 if over else 0),
                )
                a, b = sorted((side * inside, side * outside))
                stone = box((x + 0.012, -cap - 0.015, a), (x + long - 0.012, 0.03 * 0, b), "rock")
                parts.append(_chamfered(stone, 0.03).at(shift[0], shift[1] + 0.03, shift[2]))
                x += long
        return join(parts)


def _chamfered(solid: Mesh, by: float) -> Mesh:
    """A box whose upper edges are cut back by ``by`` metres, as years of ropes and boots do."""
    (x0, y0, z0), (x1, y1, z1) = solid.bounds
    low = [(x0, y0, z0), (x1, y0, z0), (x1, y0, z1), (x0, y0, z1)]
    mid = [(x, y1 - by, z) for x, _, z in low]
    top = [(x0 + by, y1, z0 + by), (x1 - by, y1, z0 + by), (x1 - by, y1, z1 - by), (x0 + by, y1, z1 - by)]
    faces = [[0, 1, 2], [0, 2, 3], [8, 10, 9], [8, 11, 10]]
    for ring in (0, 4):
        for k in range(4):
            a, b = ring + k, ring + (k + 1) % 4
            faces += [[a, a + 4, b + 4], [a, b + 4, b]]
    return Mesh.of(low + mid + top, faces, solid.part_names[0])
