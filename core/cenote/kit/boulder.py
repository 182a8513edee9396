"""Boulders."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh
from .base import KIT, Dice, Group, KitItem


@KIT.register
class Boulder(KitItem):
    """A boulder, a metre or more across, half sunk where it lies."""

    kind: Literal["boulder"] = "boulder"
    title: ClassVar[str] = "Boulder"
    group: ClassVar[Group] = "stones"
    tags: ClassVar[tuple[str, ...]] = ("stone", "rock", "large")
    variants: ClassVar[int] = 6
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        size = (dice.one(0.5, 0.85), dice.one(0.35, 0.6), dice.one(0.45, 0.75))
        mesh = boulder(variant + 140, size, (30, 12, 6)[detail], (42, 18, 8)[detail], "rock")
        return mesh.at(y=size[1] * 0.42).coloured(np.ones(3) * dice.one(0.85, 1.1))
