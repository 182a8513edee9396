"""Heaps of rubble."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import boulder
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, along_y
from .bricks import brick


@KIT.register
class Rubble(KitItem):
    """A heap of fallen masonry: broken bricks and stones over mortar crumbs."""

    kind: Literal["rubble"] = "rubble"
    title: ClassVar[str] = "Rubble"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("rubble", "brick", "ruin", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False
    roughness: ClassVar[float] = 0.95

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((34, 22, 10)[detail]):
            far, turn = dice.one() ** 0.7, dice.one(0, 6.28)
            lift = 0.17 * (1 - far) ** 1.3 * dice.one(0.4, 1)
            at = along_y(turn) * 0.62 * far + [0, lift, 0]
            a, b = dice.many(2, low=-0.6, high=0.6) * (1 - 0.4 * far)
            tip = np.eye(4)
            tip[:3, :3] = _turn(a, 0) @ _turn(dice.one(0, 6.28), 1) @ _turn(b, 2)
            tip[:3, 3] = at
            if dice.one() < 0.62:
                piece = brick(dice, detail)
                short = np.diag([dice.one(0.35, 1.0), 1, 1, 1])
                out.append(piece.moved(short).moved(tip))
            else:
                wide = dice.one(0.03, 0.1)
                stone = boulder(
                    int(dice.one(0, 9999)),
                    (wide, wide * 0.7, wide * 0.8),
                    (5, 4, 3)[detail],
                    (7, 6, 5)[detail],
                    "rock",
                )
                out.append(stone.coloured(np.array([0.33, 0.305, 0.255]) * dice.one(0.6, 1.1)).moved(tip))
        return join(out)


def _turn(angle: float, axis: int) -> np.ndarray:
    """The 3×3 rotation about a coordinate axis by radians."""
    a, b = [k for k in range(3) if k != axis]
    out = np.eye(3)
    out[a, a] = out[b, b] = np.cos(angle)
    out[a, b], out[b, a] = -np.sin(angle), np.sin(angle)
    return out
