"""Pines."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh
from ..parameters import quantity
from .base import KIT, Dice, Group, KitItem, Seasons
from .cards import blank, finished, stem
from .growth import Crown, aged_tree
from .trees import Habit

CROWN = Crown(height=16.0, base=0.42, radius=0.24, widest=0.5, round=1.4, trunk=0.02, points=760, step=0.34, rise=0.04,
              mature=75, full=180, plates=13)  # fmt: skip
HABIT = Habit(height=(0, 0), trunk=0, first=0, branches=0, spread=0, rise=0, droop=-0.3, wander=0, spray=0.72, sprays=4)


@KIT.register
class Pine(KitItem):
    """A pine: a bare tall trunk, and above it flat clouds of needles with light between them."""

    kind: Literal["pine"] = "pine"
    title: ClassVar[str] = "Pine"
    group: ClassVar[Group] = "trees"
    tags: ClassVar[tuple[str, ...]] = ("tree", "conifer", "evergreen", "heath", "large")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 40.0
    leaf: ClassVar[int] = 4
    seasons: ClassVar[Seasons] = ((1.05, 1.08, 0.95), (1.0, 1.0, 1.0), (1.05, 1.0, 0.95), (1.0, 0.92, 0.95))
    age: float = quantity(95, low=4, high=400, unit="years", step=5, help="From a sapling to one that dies back.")

    def card(self) -> np.ndarray:
        card, dice = blank(512, 512), Dice(self.kind, "card")
        for left, top in ((0, 0), (256, 0), (0, 256), (256, 256)):
            middle, foot = left + 128, top + 252
            for k in range(5):
                lean = (k - 2) * 0.42 + dice.one(-0.1, 0.1)
                long = dice.one(150, 215) * (1 - 0.12 * abs(k - 2))
                tip = (middle + np.sin(lean) * long * 0.9, foot - np.cos(lean) * long)
                stem(card, [(middle, foot), tip], (5, 2.5), (0.085, 0.055, 0.032))
                # Needles in pairs all along a shoot, longer in its middle, pointing forwards.
                for j in range(58):
                    share = 0.18 + 0.82 * (j + 0.5) / 58
                    at = (middle + (tip[0] - middle) * share, foot + (tip[1] - foot) * share)
                    side = 1 if j % 2 else -1
                    way = lean + side * (0.45 + 0.5 * (1 - share)) + dice.one(-0.12, 0.12)
                    needle = dice.one(26, 40)
                    tone = dice.one(0.7, 1.3)
                    end = (at[0] + np.sin(way) * needle, at[1] - np.cos(way) * needle)
                    stem(card, [at, end], (2.4, 1.0), (0.030 * tone, 0.062 * tone, 0.026 * tone))
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        age = self.age * (0.75, 1.0, 0.88, 1.2)[variant % 4]
        return aged_tree(CROWN, HABIT, Dice(self.kind, variant), detail, age)
