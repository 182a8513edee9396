"""Loose stones."""

from __future__ import annotations

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh
from .base import KIT, Dice, KitItem


@KIT.register
class Stone(KitItem):
    """A worn field stone, about 25 cm across."""

    kind = "stone"
    name = "Stone"
    tags = ("stone", "rock", "small")
    variants = 5
    grows = False
    roughness = 0.9

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        size = (dice.one(0.1, 0.15), dice.one(0.055, 0.09), dice.one(0.08, 0.13))
        mesh = boulder(variant + 40, size, rings=(7, 3)[detail], sides=(11, 5)[detail]).at(y=size[1] * 0.55)
        height = (mesh.positions[:, 1] - mesh.positions[:, 1].min()) / np.ptp(mesh.positions[:, 1])
        grey = (0.12 + 0.13 * height + 0.03 * dice.many(len(height))) * dice.one(0.85, 1.15)
        return Mesh.of(mesh.positions, mesh.faces, "stone", grey[:, None] * np.array([1.0, 0.95, 0.86]))
