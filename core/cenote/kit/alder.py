"""Alders."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem, Seasons
from .cards import LeafShape, blank, finished, twig
from .trees import Habit, tree

HABIT = Habit(height=(6.5, 9.0), trunk=0.021, first=0.2, branches=30, spread=0.30, rise=0.55, droop=0.05, wander=0.15,
              spray=0.62, sprays=2, stems=2)  # fmt: skip


@KIT.register
class Alder(KitItem):
    """An alder of the water's edge, six to nine metres high, with dark round leaves."""

    kind: Literal["alder"] = "alder"
    title: ClassVar[str] = "Alder"
    group: ClassVar[Group] = "trees"
    tags: ClassVar[tuple[str, ...]] = ("tree", "broadleaf", "water", "large")
    stiffness: ClassVar[float] = 36.0
    sheds: ClassVar[bool] = True
    leaf: ClassVar[int] = 4
    seasons: ClassVar[Seasons] = ((1.1, 1.3, 0.8), (1.0, 1.0, 1.0), (1.25, 1.05, 0.75), (1.7, 1.1, 0.7))

    def card(self) -> np.ndarray:
        card, dice = blank(512, 512), Dice(self.kind, "card")
        shape = LeafShape(0.86, 0.56, 0.75, teeth=9, depth=0.06, veins=6)
        for left, top in ((0, 0), (256, 0), (0, 256), (256, 256)):
            twig(card, (left + 6, top + 6, left + 250, top + 254), dice, shape, 0.24, 5, (0.014, 0.036, 0.009),
                 (0.070, 0.115, 0.028), (0.055, 0.042, 0.03))  # fmt: skip
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        return tree(HABIT, Dice(self.kind, variant), detail)
