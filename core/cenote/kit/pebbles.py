"""Pebbles."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, along_y


@KIT.register
class Pebbles(KitItem):
    """A patch of loose pebbles and gravel, 60 cm across."""

    kind: Literal["pebbles"] = "pebbles"
    title: ClassVar[str] = "Gravel patch"
    group: ClassVar[Group] = "stones"
    tags: ClassVar[tuple[str, ...]] = ("gravel", "pebble", "stone", "ground", "small")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        shades = [(1.0, 0.98, 0.94), (1.25, 1.2, 1.1), (0.6, 0.6, 0.62), (1.1, 0.86, 0.64)]
        for _ in range((60, 34, 16)[detail]):
            wide = dice.one(0.008, 0.026) * (1, 1.15, 1.5)[detail]
            size = (wide, wide * dice.one(0.5, 0.75), wide * dice.one(0.65, 1))
            at = along_y(dice.one(0, 6.28)) * 0.32 * dice.one() ** 0.6
            mesh = boulder(int(dice.one(0, 9999)), size, (5, 4, 3)[detail], (8, 6, 4)[detail], "river_stone")
            shade = np.array(shades[int(dice.one(0, 4))]) * dice.one(0.7, 1.2)
            out.append(mesh.at(float(at[0]), size[1] * 0.5, float(at[2])).coloured(shade))
        return join(out)
