"""Fallen leaves."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, along_y, ribbon
from .cards import LeafShape, blank, finished, leaf


@KIT.register
class DeadLeaves(KitItem):
    """A handful of fallen leaves, brown and ochre, curled at their edges."""

    kind: Literal["dead_leaves"] = "dead_leaves"
    title: ClassVar[str] = "Dead leaves"
    group: ClassVar[Group] = "litter"
    tags: ClassVar[tuple[str, ...]] = ("leaf", "litter", "ground", "small")
    variants: ClassVar[int] = 5
    grows: ClassVar[bool] = False
    litter: ClassVar[bool] = True

    def card(self) -> np.ndarray:
        card = blank(128, 256)
        leaf(
            card,
            (64, 126),
            np.pi / 2,
            122,
            LeafShape(0.8, 0.5, 0.9, teeth=9, depth=0.08),
            (0.085, 0.042, 0.016),
            (0.27, 0.15, 0.055),
        )
        leaf(
            card,
            (192, 126),
            np.pi / 2,
            122,
            LeafShape(0.66, 0.36, 1.6, teeth=8, depth=0.1),
            (0.16, 0.10, 0.026),
            (0.40, 0.27, 0.075),
        )
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((13, 9, 5)[detail]):
            long, way = dice.one(0.05, 0.085) * (1, 1.2, 1.6)[detail], along_y(dice.one(0, 6.28))
            root = along_y(dice.one(0, 6.28)) * 0.3 * np.sqrt(dice.one()) + [0, dice.one(0.003, 0.018), 0]
            u = np.linspace(0, 1, (3, 2, 2)[detail])
            path = (
                root
                + way * (long * u)[:, None]
                + [0, 1, 0] * (long * dice.one(0.05, 0.4) * (u - 0.5) ** 2 * 2)[:, None]
            )
            side = np.array([-way[2], dice.one(-0.35, 0.35), way[0]])
            cell = (0, 0, 0.5, 1) if dice.one() < 0.6 else (0.5, 0, 1, 1)
            out.append(
                ribbon(
                    path, np.full(len(u), long), side, np.tile(np.ones(3) * dice.one(0.6, 1.3), (len(u), 1)), CARD, cell
                )
            )
        return join(out)
