"""Broken stone."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, along_y


@KIT.register
class Scree(KitItem):
    """A spill of sharp broken stone, as under a failing wall."""

    kind: Literal["scree"] = "scree"
    title: ClassVar[str] = "Broken stone"
    group: ClassVar[Group] = "stones"
    tags: ClassVar[tuple[str, ...]] = ("stone", "rubble", "ruin", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((26, 18, 10)[detail]):
            wide, far = dice.one(0.03, 0.12), dice.one() ** 0.8
            size = (wide, wide * dice.one(0.35, 0.7), wide * dice.one(0.5, 0.9))
            at = along_y(dice.one(0, 6.28)) * 0.55 * far
            mesh = boulder(int(dice.one(0, 9999)), size, (5, 4, 3)[detail], (7, 6, 5)[detail], "rock")
            lift = size[1] * 0.6 + 0.1 * (1 - far) ** 2
            out.append(mesh.at(float(at[0]), lift, float(at[2])).coloured(np.ones(3) * dice.one(0.7, 1.2)))
        return join(out)
