"""Brambles."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, along_y, ribbon
from .cards import LeafShape, blank, finished, leaf, stem


@KIT.register
class Bramble(KitItem):
    """A bramble: long arching canes that root again, with leaves in threes."""

    kind: Literal["bramble"] = "bramble"
    title: ClassVar[str] = "Bramble"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("bramble", "thorn", "shrub", "medium")
    stiffness: ClassVar[float] = 20.0

    def card(self) -> np.ndarray:
        card = blank(256, 256)
        shape = LeafShape(0.66, 0.42, 1.35, teeth=10, depth=0.16, veins=7)
        stem(card, [(128, 255), (128, 150)], (5, 3), (0.09, 0.075, 0.035))
        for angle, long in ((0.25, 112), (np.pi - 0.25, 112), (np.pi / 2, 142)):
            leaf(card, (128, 156), angle, long, shape, (0.020, 0.046, 0.012), (0.080, 0.125, 0.032), 1.0)
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((11, 8, 5)[detail]):
            turn, reach, tall = dice.one(0, 2 * np.pi), dice.one(0.6, 1.5), dice.one(0.4, 0.85)
            t = np.linspace(0, 1, 8)
            path = along_y(turn) * dice.one(0, 0.2) + along_y(turn) * (reach * t)[:, None]
            path[:, 1] += tall * 4 * t * (0.92 - t) * 0.72 + 0.02 * t
            path += dice.many(8, 3, low=-0.025, high=0.025)
            path[0, 1] = -0.03
            if detail < 2:
                out.append(
                    limb(path, np.linspace(0.007, 0.003, 8), (4, 3)[detail], "cane").coloured((0.10, 0.055, 0.045))
                )
            for share in np.linspace(0.14, 1.0, (26, 15, 7)[detail]):
                at = path[min(int(share * 7), 6)]
                way = along_y(turn + (1.2 if dice.one() > 0.5 else -1.2) + dice.one(-0.6, 0.6))
                way[1] = dice.one(0, 0.7)
                way /= np.linalg.norm(way)
                long = dice.one(0.11, 0.19) * (1, 1.25, 1.9)[detail]
                u = np.linspace(0, 1, 3 if detail == 0 else 2)
                leaf_path = at + way * (long * u)[:, None] - [0, 1, 0] * (0.35 * long * u**2)[:, None]
                side = np.cross(way, [0, 1.0, 0])
                side = side / np.linalg.norm(side) + [0, dice.one(-0.3, 0.3), 0]
                shade = np.tile(np.ones(3) * dice.one(0.7, 1.25), (len(u), 1))
                out.append(ribbon(leaf_path, np.full(len(u), long), side, shade, CARD, (0, 0, 1, 1)))
        return join(out)
