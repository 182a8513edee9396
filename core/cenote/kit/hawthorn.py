"""Hawthorn bushes."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem, Seasons
from .cards import LeafShape, blank, finished, twig
from .trees import Habit, tree

HABIT = Habit(height=(1.8, 3.0), trunk=0.02, first=0.06, branches=36, spread=0.42, rise=0.6, droop=0.15, wander=0.28,
              spray=0.34, sprays=2, stems=4)  # fmt: skip


@KIT.register
class Hawthorn(KitItem):
    """A hawthorn bush of hedges and waste ground, two to three metres high, dense and crooked."""

    kind: Literal["hawthorn"] = "hawthorn"
    title: ClassVar[str] = "Hawthorn bush"
    group: ClassVar[Group] = "trees"
    tags: ClassVar[tuple[str, ...]] = ("bush", "hedge", "shrub", "large")
    stiffness: ClassVar[float] = 30.0
    sheds: ClassVar[bool] = True
    leaf: ClassVar[int] = 4
    seasons: ClassVar[Seasons] = ((1.1, 1.3, 0.8), (1.0, 1.0, 1.0), (1.9, 1.0, 0.6), (2.4, 0.8, 0.5))

    def card(self) -> np.ndarray:
        card, dice = blank(512, 512), Dice(self.kind, "card")
        shape = LeafShape(0.82, 0.5, 1.0, lobes=3, veins=4)
        for left, top in ((0, 0), (256, 0), (0, 256), (256, 256)):
            twig(card, (left + 6, top + 6, left + 250, top + 254), dice, shape, 0.2, 6, (0.018, 0.042, 0.010),
                 (0.085, 0.125, 0.030), (0.07, 0.055, 0.042))  # fmt: skip
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        return tree(HABIT, Dice(self.kind, variant), detail)
