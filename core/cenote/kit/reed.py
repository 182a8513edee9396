"""Reeds."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, Group, KitItem, Seasons, along_y, blend, ribbon


@KIT.register
class Reed(KitItem):
    """A stand of reeds, taller than a man: upright stems, long leaves that hang over, brown plumes."""

    kind: Literal["reed"] = "reed"
    title: ClassVar[str] = "Reed"
    group: ClassVar[Group] = "grasses"
    tags: ClassVar[tuple[str, ...]] = ("reed", "water", "tall")
    variants: ClassVar[int] = 4
    roughness: ClassVar[float] = 0.7
    stiffness: ClassVar[float] = 12.0
    seasons: ClassVar[Seasons] = ((0.95, 1.15, 0.8), (1.0, 1.0, 1.0), (1.5, 1.15, 0.75), (2.0, 1.4, 0.9))

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((11, 8, 5)[detail]):
            turn, tall = dice.one(0, 2 * np.pi), dice.one(1.1, 2.0)
            foot, lean = along_y(turn) * dice.one(0, 0.2), along_y(turn) * dice.one(0.02, 0.22)
            t = np.linspace(0, 1, (5, 3, 2)[detail])
            path = foot + lean * (t**2)[:, None] + np.array([0, tall, 0]) * t[:, None]
            tone = dice.one(0.8, 1.2)
            stem = blend((0.12, 0.12, 0.045), (0.25, 0.235, 0.10), t) * tone
            for side in (along_y(turn + 1.57), along_y(turn))[: 2 if detail == 0 else 1]:
                out.append(ribbon(path, np.full(len(t), 0.008 * (1, 1.3, 2.2)[detail]), side, stem, "blade"))
            for level in np.linspace(0.22, 0.86, (6, 3, 2)[detail]):
                at = foot + lean * level**2 + np.array([0, tall * level, 0])
                way, reach = along_y(turn + level * 11), dice.one(0.35, 0.62)
                u = np.linspace(0, 1, (5, 3, 2)[detail])
                leaf = at + way * (reach * 0.62 * u**0.9)[:, None]
                leaf[:, 1] += reach * (0.75 * u - 0.62 * u**2.6)
                widths = 0.026 * np.sin(np.pi * (0.25 + 0.75 * u)) ** 0.7 * (1, 1.2, 1.7)[detail]
                widths[-1] = 0
                green = blend((0.055, 0.095, 0.025), (0.15, 0.185, 0.055), u) * tone
                out.append(ribbon(leaf, widths, np.array([-way[2], 0, way[0]]), green, "blade"))
            for k in range((9, 4, 1)[detail]):
                at, way = path[-1] + [0, 0.02 * k - 0.05, 0], along_y(k * 2.4)
                plume = np.array([at, at + way * 0.035 + [0, 0.07, 0], at + way * 0.06 + [0, 0.10, 0]])
                brown = np.tile(np.array([0.15, 0.10, 0.068]) * tone, (3, 1))
                out.append(
                    ribbon(plume, np.array([0.004, 0.02, 0]) * (1, 1.4, 3)[detail], along_y(turn), brown, "plume")
                )
        return join(out)
