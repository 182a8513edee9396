"""Birches."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem, Seasons
from .cards import LeafShape, blank, finished, twig
from .trees import Habit, tree

HABIT = Habit(height=(8.0, 11.0), trunk=0.014, first=0.26, branches=26, spread=0.21, rise=0.75, droop=0.55, wander=0.12,
              spray=0.60, sprays=2, bark="birch_bark")  # fmt: skip


@KIT.register
class Birch(KitItem):
    """A birch, eight to eleven metres high: white trunk, thin hanging twigs, small bright leaves."""

    kind: Literal["birch"] = "birch"
    title: ClassVar[str] = "Birch"
    group: ClassVar[Group] = "trees"
    tags: ClassVar[tuple[str, ...]] = ("tree", "broadleaf", "large")
    stiffness: ClassVar[float] = 26.0
    sheds: ClassVar[bool] = True
    leaf: ClassVar[int] = 4
    seasons: ClassVar[Seasons] = ((1.15, 1.3, 0.8), (1.0, 1.0, 1.0), (2.6, 1.6, 0.5), (3.2, 1.5, 0.5))

    def card(self) -> np.ndarray:
        card, dice = blank(512, 512), Dice(self.kind, "card")
        shape = LeafShape(0.72, 0.34, 1.6, teeth=8, depth=0.12, veins=5)
        for left, top in ((0, 0), (256, 0), (0, 256), (256, 256)):
            twig(card, (left + 6, top + 6, left + 250, top + 254), dice, shape, 0.16, 7, (0.030, 0.062, 0.012),
                 (0.115, 0.170, 0.040), (0.06, 0.038, 0.03))  # fmt: skip
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        return tree(HABIT, Dice(self.kind, variant), detail)
