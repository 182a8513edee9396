"""Nettles."""

from __future__ import annotations

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import KIT, Dice, KitItem, ribbon


@KIT.register
class Nettle(KitItem):
    """A clump of nettle stems with leaves in crossed pairs, about 80 cm high."""

    kind = "nettle"
    name = "Nettle"
    tags = ("nettle", "weed", "medium")

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = []
        for _ in range((4 + variant % 2, 3)[detail]):
            tall, turn = dice.one(0.5, 0.95), dice.one(0, 2 * np.pi)
            foot = np.array([np.cos(turn), 0, np.sin(turn)]) * dice.one(0.02, 0.14)
            lean = np.array([np.cos(turn), 0, np.sin(turn)]) * dice.one(0.02, 0.16)
            along = np.linspace(0, 1, 3)
            path = foot + lean * (along**2)[:, None] + np.array([0, tall, 0]) * along[:, None]
            stem = np.tile((0.06, 0.085, 0.025), (3, 1))
            out.append(
                ribbon(path, np.array([0.012, 0.009, 0.004]), np.array([np.sin(turn), 0, -np.cos(turn)]), stem, "stem")
            )
            for level in np.linspace(0.22, 1.0, (6, 3)[detail]):
                at = foot + lean * level**2 + np.array([0, tall * level, 0])
                reach = 0.14 * (1.15 - 0.75 * level)
                for k in range(2):
                    way_turn = turn + level * 17 + k * np.pi
                    way = np.array([np.cos(way_turn), 0, np.sin(way_turn)])
                    leaf = at + way * (np.array([0, 0.55, 1]) * reach)[:, None]
                    leaf[:, 1] += np.array([0, 0.012, -0.045]) + 0.02 * (1 - level)
                    shade = np.array([[0.05, 0.10, 0.02], [0.075, 0.15, 0.03], [0.06, 0.12, 0.024]]) * dice.one(
                        0.8, 1.2
                    )
                    side = np.array([-way[2], 0, way[0]])
                    if detail:
                        leaf, shade, widths = leaf[[0, 2]], shade[[0, 2]], np.array([reach * 0.8, 0])
                    else:
                        widths = np.array([0.012, reach * 0.62, 0])
                    out.append(ribbon(leaf, widths, side, shade, "leaf"))
        return join(out)
