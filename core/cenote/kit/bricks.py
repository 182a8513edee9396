"""Loose bricks."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join, placement_matrix
from .base import KIT, Dice, Group, KitItem
from .wood import worn_box


def brick(dice: Dice, detail: int) -> Mesh:
    """One brick standing on the origin, chipped and of its own tone."""
    tone = np.array([1, dice.one(0.9, 1.12), dice.one(0.9, 1.15)]) * dice.one(0.6, 1.1)
    solid = worn_box((-0.1075, 0, -0.05125), (0.1075, 0.065, 0.05125), dice.one(0.003, 0.008), "fired_clay")
    positions = solid.positions + dice.many(*solid.positions.shape, low=-0.0022, high=0.0022)
    mesh = Mesh.of(positions, solid.faces, "fired_clay").coloured(tone)
    if detail == 2:
        from ..geometry.build import box

        return box((-0.1075, 0, -0.05125), (0.1075, 0.065, 0.05125), "fired_clay").coloured(tone)
    return mesh


@KIT.register
class Bricks(KitItem):
    """A few loose bricks, whole, thrown down."""

    kind: Literal["bricks"] = "bricks"
    title: ClassVar[str] = "Bricks"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("brick", "prop", "small")
    variants: ClassVar[int] = 5
    grows: ClassVar[bool] = False
    roughness: ClassVar[float] = 0.92

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = [brick(dice, detail)]
        for k in range(variant):
            turn, away = dice.one(0, 360), 0.16 + 0.1 * k
            at = (away * np.cos(k * 2.2), 0.0, away * np.sin(k * 2.2))
            out.append(brick(dice, detail).moved(placement_matrix(at, turn)))
        return join(out)
