"""Poplars."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from ..parameters import quantity
from .base import KIT, Dice, Group, KitItem, Seasons
from .cards import LeafShape, blank, finished, twig
from .growth import Crown, aged_tree
from .trees import Habit

CROWN = Crown(height=19.0, base=0.08, radius=0.085, widest=0.36, round=1.7, trunk=0.017, points=560, step=0.36, rise=0.62,
              mature=38, full=85)  # fmt: skip
HABIT = Habit(height=(0, 0), trunk=0, first=0, branches=0, spread=0, rise=0, droop=-0.35, wander=0, spray=0.9, sprays=4)


@KIT.register
class Poplar(KitItem):
    """A poplar that grows as a column, all its limbs upright, along roads and water."""

    kind: Literal["poplar"] = "poplar"
    title: ClassVar[str] = "Poplar"
    group: ClassVar[Group] = "trees"
    tags: ClassVar[tuple[str, ...]] = ("tree", "broadleaf", "avenue", "water", "large")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 30.0
    sheds: ClassVar[bool] = True
    leaf: ClassVar[int] = 4
    seasons: ClassVar[Seasons] = ((1.35, 1.2, 0.75), (1.0, 1.0, 1.0), (2.7, 1.6, 0.5), (3.0, 1.5, 0.5))
    age: float = quantity(40, low=2, high=160, unit="years", step=2, help="From a sapling to one that dies back.")

    def card(self) -> np.ndarray:
        card, dice = blank(512, 512), Dice(self.kind, "card")
        shape = LeafShape(0.9, 0.3, 1.5, teeth=7, depth=0.05, veins=5)
        for left, top in ((0, 0), (256, 0), (0, 256), (256, 256)):
            twig(card, (left + 6, top + 6, left + 250, top + 254), dice, shape, 0.2, 6, (0.024, 0.052, 0.012),
                 (0.105, 0.155, 0.040), (0.09, 0.078, 0.055))  # fmt: skip
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        age = self.age * (0.8, 1.0, 0.9, 1.15)[variant % 4]
        return aged_tree(CROWN, HABIT, Dice(self.kind, variant), detail, age)
