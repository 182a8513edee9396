"""Nettles."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, ribbon
from .cards import LeafShape, blank, finished, leaf


@KIT.register
class Nettle(KitItem):
    """A clump of stinging nettles: square stems, toothed leaves in crossed pairs that droop."""

    kind: Literal["nettle"] = "nettle"
    title: ClassVar[str] = "Nettle"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("nettle", "weed", "medium")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 14.0
    seasons: ClassVar[Seasons] = ((1.0, 1.2, 0.8), (1.0, 1.0, 1.0), (1.5, 1.05, 0.8), (2.6, 1.2, 1.1))

    def card(self) -> np.ndarray:
        card = blank(256, 128)
        leaf(card, (64, 254), np.pi / 2, 250, LeafShape(0.48, 0.3, 1.5, teeth=13, depth=0.24, veins=9),
             (0.016, 0.048, 0.010), (0.075, 0.135, 0.030))  # fmt: skip
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((7 + variant % 2, 5, 4)[detail]):
            tall, turn = dice.one(0.45, 0.98), dice.one(0, 2 * np.pi)
            foot, lean = along_y(turn) * dice.one(0.01, 0.17), along_y(turn) * dice.one(0.02, 0.14)
            t = np.linspace(0, 1, 3)
            path = foot + lean * (t**2)[:, None] + np.array([0, tall, 0]) * t[:, None]
            stem = np.outer([1, 1.1, 1.2], [0.075, 0.082, 0.035])
            out.append(ribbon(path, np.array([0.008, 0.006, 0.003]), along_y(turn + 1.57), stem, "stem"))
            levels = np.linspace(0.16, 1.0, (9, 6, 3)[detail])
            for row, level in enumerate(levels):
                at = foot + lean * level**2 + np.array([0, tall * level, 0])
                reach = 0.135 * (1.12 - 0.72 * level) * (1, 1.15, 1.7)[detail]
                for k in range(2):
                    way = along_y(turn + row * np.pi / 2 + k * np.pi + dice.one(-0.25, 0.25))
                    u = np.array([0, 0.5, 1]) if detail < 2 else np.array([0, 1])
                    droop = 0.34 + 0.5 * dice.one() - 0.5 * level
                    path_out = (
                        at + way * (reach * u)[:, None] + [0, 1, 0] * (reach * (0.16 * u - droop * u**2))[:, None]
                    )
                    shade = np.tile(np.ones(3) * dice.one(0.72, 1.2) * (0.55 + 0.45 * level), (len(u), 1))
                    side = np.array([-way[2], dice.one(-0.3, 0.3), way[0]])
                    out.append(ribbon(path_out, np.full(len(u), reach * 0.5), side, shade, CARD, (0, 0, 1, 1)))
        return join(out)
