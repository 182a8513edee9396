"""Fallen twigs."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, along_y


@KIT.register
class Twigs(KitItem):
    """A few fallen twigs, forked and crooked, up to half a metre long."""

    kind: Literal["twigs"] = "twigs"
    title: ClassVar[str] = "Twigs"
    group: ClassVar[Group] = "litter"
    tags: ClassVar[tuple[str, ...]] = ("twig", "wood", "litter", "small")
    variants: ClassVar[int] = 4
    grows: ClassVar[bool] = False

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range(4):
            turn, long, thick = dice.one(0, 6.28), dice.one(0.18, 0.5), dice.one(0.004, 0.008)
            t = np.linspace(0, 1, (6, 4, 2)[detail])
            bend = np.cumsum(dice.many(len(t), low=-0.03, high=0.03))
            path = along_y(dice.one(0, 6.28)) * dice.one(0, 0.2) + along_y(turn) * (long * (t - 0.5))[:, None]
            path = path + along_y(turn + 1.57) * bend[:, None] + [0, 1, 0] * (thick + 0.02 * t * dice.one())[:, None]
            sides = (5, 3, 3)[detail]
            out.append(limb(path, np.linspace(thick, thick * 0.4, len(t)), sides, "bark"))
            if detail < 2:
                fork = along_y(turn + dice.one(0.5, 0.9)) * long * 0.3
                out.append(
                    limb(
                        np.array([path[1], path[1] + fork * 0.5 + [0, 0.01, 0], path[1] + fork]),
                        [thick * 0.6, thick * 0.5, 0.002],
                        3,
                        "bark",
                    )
                )
        return join(out)
