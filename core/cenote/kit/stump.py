"""Stumps."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, along_y
from .wood import sawn_end


@KIT.register
class Stump(KitItem):
    """What stands of a felled tree: a foot that spreads into roots, sawn off, with the hinge that broke."""

    kind: Literal["stump"] = "stump"
    title: ClassVar[str] = "Stump"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("wood", "woodland", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        tall, radius = dice.one(0.22, 0.55), dice.one(0.14, 0.28)
        sides = (16, 9, 6)[detail]
        t = np.linspace(0, 1, (5, 3, 2)[detail])
        path = np.column_stack([np.zeros(len(t)), -0.06 + (tall + 0.06) * t, np.zeros(len(t))])
        radii = radius * (1 + 0.6 * (1 - t) ** 2.2)
        out = [
            limb(path, radii, sides),
            sawn_end(path[-1], np.array([0, 1.0, 0]), float(radii[-1]), sides, dice),
        ]
        for k in range((6, 4, 3)[detail]):
            way = along_y(k * 2 * np.pi / (6, 4, 3)[detail] + dice.one(-0.3, 0.3))
            u = np.linspace(0, 1, (5, 3, 2)[detail])
            root = way * (radius * (0.6 + dice.one(1.2, 2.2) * u))[:, None]
            root[:, 1] = radius * (0.75 * (1 - u) ** 2.2 - 0.4 * u)
            out.append(limb(root, radius * (0.5 - 0.36 * u), (6, 5, 4)[detail]))
        for _ in range((5, 0, 0)[detail]):
            # Splinters where the last of it tore.
            at = along_y(dice.one(-0.6, 0.6)) * radius * dice.one(0.3, 0.85) + [0, tall, 0]
            spike = at + np.array([[0, -0.02, 0], [0, dice.one(0.02, 0.09), 0]])
            out.append(limb(spike, np.array([0.018, 0.003]), 4, "planed_timber"))
        return join(out)
