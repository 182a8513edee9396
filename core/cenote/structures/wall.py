"""Free-standing walls."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..geometry.build import box
from ..geometry.mesh import Mesh, join, placement_matrix
from ..kit.base import Dice
from ..parameters import count, quantity
from .base import MAKERS, Maker


@MAKERS.register
class Wall(Maker):
    """A free-standing wall along x with piers and coping stones; it may lean and crumble."""

    kind: Literal["wall"] = "wall"
    title: ClassVar[str] = "Wall"
    length: float = quantity(8, low=0.5, high=200, unit="m", step=0.1, help="Length of the wall.")
    height: float = quantity(1.8, low=0.2, high=12, unit="m", step=0.05, help="Height without its coping.")
    thickness: float = quantity(0.32, low=0.08, high=2, unit="m", step=0.02, help="Thickness of the wall.")
    piers: float = quantity(3.2, low=0, high=20, unit="m", step=0.1, help="Distance of its piers; 0 for none.")
    coping: float = quantity(
        0.09, low=0, high=0.4, unit="m", step=0.01, help="Height of the coping stones; 0 for none."
    )
    ruin: float = quantity(0.1, low=0, high=1, unit="", step=0.02, help="How far it has crumbled.")
    material: str = Field("brick", description="What it is made of.", json_schema_extra={"picks": "material"})
    seed: int = count(1, low=0, high=9999, help="Another number breaks it in other places.")

    def build(self) -> Mesh:
        dice = Dice("wall", self.seed)
        half, out = self.length / 2, []
        x, low = -half, self.height
        while x < half - 1e-6:
            wide = min(dice.one(0.5, 0.8), half - x)
            # A crumbling top goes up and down in steps, and loses more where it has begun.
            loss = self.ruin * dice.one() ** 2 * 1.3 + (0.25 if low < self.height * 0.9 else 0) * self.ruin
            low = max(self.height * (1 - min(loss, 0.95)), 0.15)
            out.append(box((x, -0.4, -self.thickness / 2), (x + wide, low, self.thickness / 2), self.material))
            if self.coping and low > self.height * 0.985:
                shift = dice.many(3, low=-1, high=1) * np.array([0.004, 0.003, 0.008])
                stone = box(
                    (x + 0.006, 0, -self.thickness / 2 - 0.05),
                    (x + wide - 0.006, self.coping, self.thickness / 2 + 0.05),
                    "ashlar",
                )
                out.append(stone.at(shift[0], low + shift[1] + 0.003, shift[2]))
            x += wide
        if self.piers:
            for x in np.linspace(-half, half, max(2, round(self.length / self.piers) + 1)):
                tall = self.height + 0.12 if dice.one() > self.ruin * 0.7 else self.height * dice.one(0.4, 0.9)
                deep = self.thickness / 2 + 0.1
                out.append(box((x - 0.24, -0.4, -deep), (x + 0.24, tall, deep), self.material))
                if tall > self.height:
                    out.append(box((x - 0.29, tall, -deep - 0.05), (x + 0.29, tall + 0.1, deep + 0.05), "ashlar"))
        for _ in range(int(self.length * self.ruin * 7)):
            size = dice.one(0.05, 0.16)
            at = (dice.one(-half, half), size * 0.2, self.thickness / 2 + 0.1 + dice.one() ** 2 * 0.9)
            at = (at[0], at[1], at[2] if dice.one() < 0.5 else -at[2])
            out.append(
                box((-size, -size * 0.4, -size * 0.6), (size, size * 0.4, size * 0.6), self.material).moved(
                    placement_matrix(at, dice.one(0, 360))
                )
            )
        return join(out)
