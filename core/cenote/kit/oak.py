"""Oaks."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from ..parameters import quantity
from .base import KIT, Dice, Group, KitItem, Seasons
from .cards import LeafShape, blank, finished, twig
from .growth import Crown, aged_tree
from .trees import Habit

CROWN = Crown(height=13.0, base=0.2, radius=0.46, widest=0.42, round=1.9, trunk=0.03, points=620, step=0.34, rise=0.10,
              mature=90, full=260)  # fmt: skip
HABIT = Habit(height=(0, 0), trunk=0, first=0, branches=0, spread=0, rise=0, droop=0.1, wander=0, spray=0.82, sprays=3)


@KIT.register
class Oak(KitItem):
    """An oak: a broad open crown on limbs that wander, from sapling to stag-headed by its age."""

    kind: Literal["oak"] = "oak"
    title: ClassVar[str] = "Oak"
    group: ClassVar[Group] = "trees"
    tags: ClassVar[tuple[str, ...]] = ("tree", "broadleaf", "large")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 44.0
    sheds: ClassVar[bool] = True
    leaf: ClassVar[int] = 4
    seasons: ClassVar[Seasons] = ((1.3, 1.3, 0.75), (1.0, 1.0, 1.0), (2.1, 1.15, 0.55), (2.5, 0.95, 0.5))
    age: float = quantity(
        110, low=3, high=600, unit="years", step=5, help="From a sapling to one that dies back from its top."
    )

    def card(self) -> np.ndarray:
        card, dice = blank(512, 512), Dice(self.kind, "card")
        shape = LeafShape(0.55, 0.6, 0.8, lobes=5, veins=5)
        for left, top in ((0, 0), (256, 0), (0, 256), (256, 256)):
            twig(card, (left + 6, top + 6, left + 250, top + 254), dice, shape, 0.27, 5, (0.018, 0.042, 0.009),
                 (0.085, 0.130, 0.028), (0.06, 0.046, 0.034))  # fmt: skip
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        # Variants are of different ages as well.
        age = self.age * (0.72, 1.0, 0.86, 1.2)[variant % 4]
        return aged_tree(CROWN, HABIT, Dice(self.kind, variant), detail, age)
