"""Loose field stones."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem


@KIT.register
class Stone(KitItem):
    """A worn field stone, about 25 cm across."""

    kind: Literal["stone"] = "stone"
    title: ClassVar[str] = "Field stone"
    group: ClassVar[Group] = "stones"
    tags: ClassVar[tuple[str, ...]] = ("stone", "rock", "small")
    variants: ClassVar[int] = 6
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        size = (dice.one(0.09, 0.16), dice.one(0.05, 0.10), dice.one(0.08, 0.13))
        mesh = boulder(variant + 40, size, (16, 7, 4)[detail], (22, 11, 6)[detail], "river_stone").at(y=size[1] * 0.6)
        warm = dice.one(-0.1, 0.14)
        return mesh.coloured(np.array([1 + warm, 1.0, 1 - warm]) * dice.one(0.7, 1.15))
