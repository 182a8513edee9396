"""Reeds."""

from __future__ import annotations

import numpy as np

from ..geometry.build import tube
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, KitItem
from .grass_tuft import blades


@KIT.register
class Reed(KitItem):
    """A stand of reeds with brown heads, about 1.6 m high, for water's edge."""

    kind = "reed"
    name = "Reed"
    tags = ("reed", "water", "tall")

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        leaves = blades(
            dice,
            (14, 7)[detail],
            0.16,
            (0.9, 1.7),
            (0.026, 0.04)[detail],
            0.3,
            (0.05, 0.07, 0.02),
            (0.19, 0.2, 0.07),
            (3, 1)[detail],
        )
        heads = []
        for _ in range((3, 1)[detail]):
            turn, tall = dice.one(0, 2 * np.pi), dice.one(1.2, 1.75)
            foot = np.array([np.cos(turn), 0, np.sin(turn)]) * dice.one(0.02, 0.12)
            top = foot * 1.6 + [0, tall, 0]
            stalk = tube(np.array([foot, top]), [0.006, 0.004], 3, "stem")
            head = tube(
                np.array([top - np.array([0, 0.02, 0]), top + np.array([0, 0.16, 0])]), [0.016, 0.012], 5, "head"
            )
            heads.append(
                Mesh.of(stalk.positions, stalk.faces, "stem", np.tile((0.16, 0.15, 0.06), (len(stalk.positions), 1)))
            )
            heads.append(
                Mesh.of(head.positions, head.faces, "head", np.tile((0.075, 0.038, 0.018), (len(head.positions), 1)))
            )
        return join([leaves, *heads])
