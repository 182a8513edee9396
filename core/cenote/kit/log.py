"""Logs."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem
from .wood import sawn_end


@KIT.register
class Log(KitItem):
    """A length of a felled trunk, with its bark, stubs of branches, and sawn ends."""

    kind: Literal["log"] = "log"
    title: ClassVar[str] = "Log"
    group: ClassVar[Group] = "timber"
    tags: ClassVar[tuple[str, ...]] = ("wood", "woodland", "waterside", "medium")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        long, radius = dice.one(1.1, 2.8), dice.one(0.11, 0.2)
        sides, steps = ((14, 8), (8, 4), (6, 2))[detail]
        t = np.linspace(-0.5, 0.5, steps + 1)
        bend = dice.one(-0.12, 0.12)
        path = np.column_stack([t * long, np.full(len(t), radius), bend * long * (t**2 - 0.25)])
        radii = radius * (1 - 0.16 * (t + 0.5))
        # It lies on its lower side all along.
        path[:, 1] = radii
        out = [limb(path, radii, sides)]
        for end, way in ((0, path[0] - path[1]), (-1, path[-1] - path[-2])):
            out.append(sawn_end(path[end], way, float(radii[end]), sides, dice))
        for _ in range((1 + variant % 3, 1, 0)[detail]):
            k, turn = int(dice.one(1, steps - 1)), dice.one(0.2, np.pi - 0.2)
            way = np.array([0.45, np.sin(turn), np.cos(turn)])
            way /= np.linalg.norm(way)
            stub = path[k] + way * np.array([0.5 * radius, 1.0 * radius, radius + dice.one(0.05, 0.16)])[:, None]
            out.append(limb(stub, np.array([0.34, 0.28, 0.24]) * radius, 6))
            out.append(sawn_end(stub[-1], way, 0.24 * radius, 6, dice))
        return join(out)
