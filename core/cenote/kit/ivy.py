"""Ivy that climbs."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.build import limb
from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, ribbon
from .cards import LeafShape, blank, finished, leaf


@KIT.register
class Ivy(KitItem):
    """Ivy that climbs a wall behind it (at z = 0): stems that fan out upwards under overlapping lobed leaves."""

    kind: Literal["ivy"] = "ivy"
    title: ClassVar[str] = "Ivy"
    group: ClassVar[Group] = "climbers"
    tags: ClassVar[tuple[str, ...]] = ("ivy", "wall", "climber")
    variants: ClassVar[int] = 4
    climbs: ClassVar[bool] = True
    stiffness: ClassVar[float] = 45.0
    seasons: ClassVar[Seasons] = ((1.05, 1.15, 0.9), (1.0, 1.0, 1.0), (1.05, 0.97, 0.85), (1.0, 0.85, 0.75))

    def card(self) -> np.ndarray:
        card = blank(128, 256)
        for x, shades in (
            (64, ((0.012, 0.034, 0.009), (0.055, 0.098, 0.026))),
            (192, ((0.022, 0.05, 0.012), (0.09, 0.14, 0.038))),
        ):
            for angle, long in ((0.1, 62), (np.pi - 0.1, 62), (0.95, 84), (np.pi - 0.95, 84), (np.pi / 2, 104)):
                leaf(card, (x, 108), angle, long, LeafShape(0.72, 0.4, 1.5, veins=4), *shades)
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        out, spots = [], []
        for stem in range(7):
            lean = (stem - 3) * 0.2 + dice.one(-0.12, 0.12)
            tall = dice.one(0.9, 2.2) * (1 - 0.09 * abs(stem - 3))
            t = np.linspace(0, 1, 9)
            wander = np.cumsum(dice.many(9, low=-0.055, high=0.055))
            path = np.column_stack([lean * tall * t + wander, tall * t, np.full(9, 0.012)])
            path[0, 1] = -0.03
            if detail == 0:
                out.append(limb(path, np.linspace(0.009, 0.003, 9), 4, "stem").coloured((0.085, 0.062, 0.042)))
            spots += [
                path[k] + (path[k + 1] - path[k]) * dice.one() for k in range(8) for _ in range((9, 4, 2)[detail])
            ]
        for at in spots:
            root = at + np.array([dice.one(-0.15, 0.15), dice.one(-0.1, 0.12), dice.one(0.012, 0.07)])
            long = dice.one(0.06, 0.115) * (1, 1.5, 2.3)[detail]
            turn = dice.one(-0.9, 0.9)
            # Leaves hang with their tips down and their faces out.
            way = np.array([np.sin(turn), -np.cos(turn), dice.one(0.2, 0.5)])
            side = np.array([np.cos(turn), np.sin(turn), dice.one(-0.3, 0.3)])
            cell = (0, 0, 0.5, 1) if dice.one() < 0.65 else (0.5, 0, 1, 1)
            shade = np.tile(np.ones(3) * dice.one(0.65, 1.25), (2, 1))
            out.append(ribbon(np.array([root, root + way * long]), np.full(2, long * 1.15), side, shade, CARD, cell))
        return join(out)
