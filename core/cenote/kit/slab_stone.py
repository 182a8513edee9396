"""Slabs of split stone."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem


@KIT.register
class SlabStone(KitItem):
    """A flat split stone, as field walls and fords are made of."""

    kind: Literal["slab_stone"] = "slab_stone"
    title: ClassVar[str] = "Slab stone"
    group: ClassVar[Group] = "stones"
    tags: ClassVar[tuple[str, ...]] = ("stone", "rock", "flat", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        size = np.array([dice.one(0.22, 0.42), dice.one(0.035, 0.07), dice.one(0.16, 0.3)])
        mesh = boulder(variant + 240, size, (14, 8, 4)[detail], (24, 12, 6)[detail], "rock")
        # Split along its bed: top and bottom are cut level.
        positions = mesh.positions.copy()
        positions[:, 1] = np.clip(positions[:, 1], -size[1] * 0.55, size[1] * 0.6) + size[1] * 0.55
        return Mesh.of(positions, mesh.faces, "rock").coloured(np.array([1.05, 1.0, 0.93]) * dice.one(0.8, 1.1))
