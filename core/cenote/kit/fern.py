"""Ferns."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..geometry.mesh import Mesh, join
from .base import CARD, KIT, Dice, Group, KitItem, Seasons, along_y, ribbon
from .cards import LeafShape, blank, finished, leaf, stem


@KIT.register
class Fern(KitItem):
    """A fern: a shuttlecock of arching fronds, each cut into toothed leaflets."""

    kind: Literal["fern"] = "fern"
    title: ClassVar[str] = "Fern"
    group: ClassVar[Group] = "herbs"
    tags: ClassVar[tuple[str, ...]] = ("fern", "shade", "medium")
    variants: ClassVar[int] = 4
    stiffness: ClassVar[float] = 13.0
    seasons: ClassVar[Seasons] = ((1.0, 1.25, 0.8), (1.0, 1.0, 1.0), (2.4, 1.15, 0.65), (3.4, 1.15, 0.8))

    def card(self) -> np.ndarray:
        card = blank(512, 256)
        shape = LeafShape(0.24, 0.25, 1.1, teeth=12, depth=0.42, veins=12)
        stem(card, [(128, 511), (128, 4)], (5, 1), (0.10, 0.11, 0.035))
        for k, share in enumerate(np.linspace(0.10, 0.99, 46)):
            long = 122 * np.sin(np.pi * np.clip(share * 0.82 + 0.16, 0, 1)) ** 0.9 + 5
            tone = 0.8 + 0.4 * ((k * 7919) % 13) / 13
            for side in (0.46 + 0.3 * share, np.pi - 0.46 - 0.3 * share):
                leaf(
                    card,
                    (128, 511 - 505 * share),
                    side,
                    long,
                    shape,
                    (0.020, 0.052, 0.010),
                    (0.085, 0.155, 0.030),
                    tone,
                )
        return finished(card)

    def build(self, variant: int, detail: int = 0) -> Mesh:
        dice = Dice(self.kind, variant)
        count, steps = ((11 + variant, 6), (9, 3), (6, 2))[detail]
        out = []
        for turn in np.arange(count) * 2 * np.pi / count + dice.many(count, low=-0.3, high=0.3):
            length, rise = dice.one(0.46, 0.8), dice.one(0.85, 1.25)
            t = np.linspace(0.0, 1, steps + 1)
            way = along_y(turn)
            path = way * (0.03 + length * 0.74 * t)[:, None]
            path[:, 1] += length * (rise * t - (rise * 0.62 + 0.12) * t**2.3)
            side = np.array([-way[2], dice.one(-0.25, 0.25), way[0]])
            shade = np.tile(np.ones(3) * dice.one(0.75, 1.2), (len(t), 1)) * (0.6 + 0.4 * t)[:, None]
            out.append(ribbon(path, np.full(len(t), length * 0.46), side, shade, CARD, (0, 0, 1, 1)))
        return join(out)
