"""Railings."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import tube, turned
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem


@KIT.register
class Railing(KitItem):
    """Two metres of iron railing: a post at each end, two rails, and uprights with spear heads; one is bent."""

    kind: Literal["railing"] = "railing"
    title: ClassVar[str] = "Railing"
    group: ClassVar[Group] = "yard"
    tags: ClassVar[tuple[str, ...]] = ("railing", "fence", "iron", "medium")
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        parts = []
        sides = (8, 5, 4)[detail]
        for x in (-1.0, 1.0):
            parts.append(
                turned(
                    [(0.03, -0.25), (0.03, 1.02), (0.042, 1.04), (0.042, 1.07), (0.02, 1.13), (0.004, 1.17)],
                    sides + 2,
                    "iron",
                ).at(x)
            )
        for y in (0.16, 0.9):
            parts.append(tube(np.array([[-1.0, y, 0], [1.0, y, 0]]), [0.014, 0.014], sides, "iron"))
        bent = int(dice.one(2, 13)) if variant else -1
        for k in range(1, 16, (1, 1, 2)[detail]):
            x = -1.0 + k * 0.125
            push = 0.09 * (k == bent)
            path = np.array(
                [
                    [x, 0.08, 0],
                    [x + push * 0.5, 0.45, push],
                    [x + push, 0.96, 0],
                    [x + push, 1.0, 0],
                    [x + push, 1.07, 0],
                ]
            )
            parts.append(tube(path, [0.008, 0.008, 0.008, 0.016, 0.002], sides, "iron"))
        return join(parts).coloured(1.0)
