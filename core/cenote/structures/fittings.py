"""Small fittings of a lock side: bollards, winches, crates, stacks of planks."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import block, box, tube, turned
from ..geometry.mesh import Mesh, join, placement_matrix
from ..kit.base import Dice
from ..parameters import count, quantity
from .base import MAKERS, Maker


@MAKERS.register
class Bollards(Maker):
    """A row of cast-iron mooring bollards along x."""

    kind: Literal["bollards"] = "bollards"
    title: ClassVar[str] = "Bollards"
    number: int = count(3, low=1, high=50, help="How many stand in the row.")
    spacing: float = quantity(5, low=0.5, high=50, unit="m", step=0.1, help="From one to the next.")
    height: float = quantity(0.62, low=0.2, high=2, unit="m", step=0.02, help="Height of each.")

    def build(self) -> Mesh:
        h = self.height
        profile = [(0.2, -0.3), (0.2, 0.04 * h), (0.15, 0.1 * h), (0.125, 0.45 * h), (0.125, 0.66 * h), (0.19, 0.78 * h),
                   (0.205, 0.88 * h), (0.17, 0.97 * h), (0.06, h)]  # fmt: skip
        start = -(self.number - 1) / 2 * self.spacing
        return join([turned(profile, 20, "iron").at(start + k * self.spacing) for k in range(self.number)])


@MAKERS.register
class Winch(Maker):
    """An iron winding gear on a post, with a toothed wheel and a crank."""

    kind: Literal["winch"] = "winch"
    title: ClassVar[str] = "Winch"
    height: float = quantity(1.25, low=0.6, high=3, unit="m", step=0.05, help="Height of the post.")
    teeth: int = count(22, low=8, high=60, help="Teeth on the wheel.")

    def build(self) -> Mesh:
        h = self.height
        wheel = [turned([(0.27, -0.03), (0.27, 0.03)], 28, "iron")]
        for k in range(self.teeth):
            a = k * 2 * np.pi / self.teeth
            tooth = block((0.285, -0.03, 0), (0.05, 0.06, 0.035), "iron")
            wheel.append(tooth.moved(placement_matrix((0, 0, 0), np.degrees(a))))
        upright = np.array([[1.0, 0, 0, 0], [0, 0, -1, 0], [0, 1, 0, 0], [0, 0, 0, 1]])
        crank = np.array([[0, h * 0.8, 0.1], [0, h * 0.8, 0.3], [0.32, h * 0.8, 0.3], [0.32, h * 0.8, 0.5]])
        return join(
            [
                box((-0.13, -0.3, -0.1), (0.13, h, -0.02), "iron"),
                box((-0.13, -0.3, 0.12), (0.13, h, 0.2), "iron"),
                box((-0.17, h - 0.03, -0.13), (0.17, h + 0.05, 0.23), "iron"),
                join(wheel).moved(upright).at(0.02, h * 0.8, 0.05),
                tube(crank, [0.022] * 4, 8, "iron"),
                box((-0.05, -0.3, 0.02), (0.05, h + 0.7, 0.08), "iron"),
                box((-0.34, -0.32, -0.3), (0.34, 0.02, 0.4), "rock"),
            ]
        )


@MAKERS.register
class Crates(Maker):
    """Slatted crates, set down and stacked not too neatly."""

    kind: Literal["crates"] = "crates"
    title: ClassVar[str] = "Crates"
    number: int = count(4, low=1, high=24, help="How many there are.")
    seed: int = count(1, low=0, high=9999, help="Another number sets them down another way.")

    def build(self) -> Mesh:
        dice = Dice("crates", self.seed)
        out = []
        for k in range(self.number):
            size = (dice.one(0.55, 0.75), dice.one(0.42, 0.5), dice.one(0.45, 0.55))
            below = k >= 2 and k % 3 == 2
            x, z = ((k - (2 if below else 0)) % 3 * 0.86 + dice.one(-0.04, 0.04), k // 3 * 0.75 + dice.one(-0.06, 0.06))
            turn = dice.one(-14, 14)
            out.append(_crate(size).moved(placement_matrix((x, 0.505 if below else 0.0, z), turn)))
        return join(out)


def _crate(size: tuple[float, float, float]) -> Mesh:
    w, h, d = size
    t = 0.022
    pieces = [box((-w / 2, 0.02, -d / 2), (w / 2, 0.02 + t, d / 2), "planed_timber")]
    for k in range(4):
        y = 0.01 + k * (h - 0.02) / 4
        high = y + (h - 0.02) / 4 - 0.016
        for s in (-1, 1):
            z0, z1 = sorted((s * d / 2, s * (d / 2 - t)))
            pieces.append(box((-w / 2, y, z0), (w / 2, high, z1), "planed_timber"))
            x0, x1 = sorted((s * w / 2, s * (w / 2 - t)))
            pieces.append(box((x0, y, -d / 2 + t), (x1, high, d / 2 - t), "planed_timber"))
    for sx in (-1, 1):
        for sz in (-1, 1):
            x0, x1 = sorted((sx * (w / 2 - t), sx * (w / 2 - t - 0.05)))
            z0, z1 = sorted((sz * (d / 2 - t), sz * (d / 2 - t - 0.05)))
            pieces.append(box((x0, 0, z0), (x1, h, z1), "planed_timber"))
    for k in range(4):
        z = -d / 2 + k * d / 4
        pieces.append(box((-w / 2, h, z + 0.008), (w / 2, h + t, z + d / 4 - 0.008), "planed_timber"))
    return join(pieces)


@MAKERS.register
class PlankStack(Maker):
    """A stack of loose planks."""

    kind: Literal["planks"] = "planks"
    title: ClassVar[str] = "Planks"
    number: int = count(9, low=1, high=60, help="How many there are.")
    length: float = quantity(2.6, low=0.5, high=8, unit="m", step=0.1, help="Length of each.")
    seed: int = count(1, low=0, high=9999, help="Another number lays them another way.")

    def build(self) -> Mesh:
        dice = Dice("planks", self.seed)
        out = [block((x, 0, 0), (0.1, 0.09, 0.9), "planed_timber") for x in (-self.length * 0.33, self.length * 0.33)]
        for k in range(self.number):
            layer, column = divmod(k, 4)
            long = self.length * dice.one(0.86, 1.05)
            plank = block(
                (dice.one(-0.12, 0.12), 0.09 + layer * 0.047, (column - 1.5) * 0.225),
                (long, 0.045, 0.2),
                "planed_timber",
            )
            out.append(plank.moved(placement_matrix((0, 0, 0), dice.one(-1.6, 1.6))))
        return join(out)
