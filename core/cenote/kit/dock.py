"""Docks."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, blend, ribbon
from .cards import LeafShape, blank, finished, leaf
from .rosette import rosette

# On the card: a leaf, and a whorl of seeds.
_LEAF, _SEEDS = (0.0, 0.0, 0.6, 1.0), (0.62, 0.0, 1.0, 1.0)


@KIT.register
class Dock(KitItem):
    """A dock: broad leaves with wavy edges, and rusty stalks of seed that stand through winter."""

    kind: Literal["dock"] = "dock"
    title: ClassVar[str] = "Dock"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("weed", "waste ground", "waterside", "medium")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 17.0
    seasons: ClassVar[Seasons] = ((1.0, 1.15, 0.85), (1.0, 1.0, 1.0), (1.5, 1.0, 0.75), (2.0, 1.0, 0.75))

    def card(self) -> np.ndarray:
        card = blank(320, 256)
        leaf(card, (77, 318), np.pi / 2, 312, LeafShape(0.44, 0.38, 1.35, teeth=8, depth=0.07, veins=11),
             (0.024, 0.058, 0.012), (0.090, 0.160, 0.036))  # fmt: skip
        # Each seed has three wings, green at first and rust-red later; here they are ripe.
        seed = LeafShape(0.75, 0.45, 1.2, veins=2)
        for k in range(150):
            share = (k + 0.5) / 150
            turn, row = k * 2.39996, 312 - 306 * share
            reach = 30 * (1.05 - 0.6 * share)
            x = 207 + reach * np.cos(turn)
            tone = 0.75 + 0.5 * ((k * 61) % 17) / 17
            leaf(
                card,
                (float(x), float(row)),
                np.pi / 2 + 0.8 * np.cos(turn),
                15,
                seed,
                (0.075, 0.026, 0.010),
                (0.21, 0.085, 0.030),
                tone,
            )
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out = rosette(dice, (9 + variant, 7, 5)[detail], (0.2, 0.38), 0.4, (0.5, 1.25), _LEAF, (6, 3, 2)[detail], 0.16)
        for _ in range((1 + variant % 3, 1, 1)[detail]):
            turn, tall = dice.one(0, 2 * np.pi), dice.one(0.5, 0.95)
            lean = along_y(turn) * dice.one(0.02, 0.12)
            t = np.linspace(0, 1, 4)
            path = lean * (t**2)[:, None] + np.array([0, tall, 0]) * t[:, None]
            rust = blend((0.10, 0.075, 0.03), (0.16, 0.06, 0.025), t)
            out.append(ribbon(path, np.array([0.009, 0.007, 0.005, 0.003]), along_y(turn + 1.57), rust, "stalk"))
            # Seeds in whorls along its upper half, on two strips that cross; side stalks with fewer.
            strips = [(path[1], path[-1], 0.055)]
            for level in (0.42, 0.55, 0.68) if detail < 2 else ():
                way = along_y(dice.one(0, 2 * np.pi))
                root = lean * level**2 + np.array([0, tall * level, 0])
                strips.append((root, root + way * 0.09 * tall + np.array([0, 0.28 * tall, 0]), 0.04))
            for from_, to, wide in strips:
                line = np.stack([from_, (from_ + to) / 2, to])
                for k in range((2, 2, 1)[detail]):
                    shade = np.ones((3, 3)) * dice.one(0.8, 1.15)
                    out.append(ribbon(line, np.full(3, wide), along_y(turn + k * np.pi / 2), shade, CARD, _SEEDS))
        return join(out)
