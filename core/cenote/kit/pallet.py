"""Pallets."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem
from .wood import board


@KIT.register
class Pallet(KitItem):
    """A loading pallet of rough boards; some boards are missing."""

    kind: Literal["pallet"] = "pallet"
    title: ClassVar[str] = "Pallet"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("pallet", "wood", "prop", "medium")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        long, wide = 1.2, 0.9
        out = []
        for k in range(3):
            z = (k - 1) * (wide / 2 - 0.05)
            out.append(board((-long / 2, 0, z - 0.05), (long / 2, 0.02, z + 0.05), dice, detail))
            for j in range(3):
                x = (j - 1) * (long / 2 - 0.07)
                out.append(board((x - 0.07, 0.02, z - 0.05), (x + 0.07, 0.1, z + 0.05), dice, detail))
            out.append(board((-long / 2, 0.1, z - 0.045), (long / 2, 0.12, z + 0.045), dice, detail))
        lost = int(dice.one(0, 9)) if variant else -1
        for k in range(9):
            if k != lost:
                x = -long / 2 + 0.05 + k * (long - 0.1) / 8
                skew = dice.one(-0.006, 0.006)
                out.append(board((x - 0.048 + skew, 0.12, -wide / 2), (x + 0.048 + skew, 0.14, wide / 2), dice, detail))
        return join(out)
