"""Planks."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem
from .wood import board


@KIT.register
class Plank(KitItem):
    """A sawn plank, two metres long."""

    kind: Literal["plank"] = "plank"
    title: ClassVar[str] = "Plank"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("plank", "board", "wood", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        long, wide, thick = dice.one(1.5, 2.4), dice.one(0.14, 0.22), dice.one(0.028, 0.045)
        return board((-long / 2, 0, -wide / 2), (long / 2, thick, wide / 2), dice, detail)
